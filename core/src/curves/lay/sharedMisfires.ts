import { findMisfires, type MisfireZone } from '../../field/faults/misfires'
import { marginRange } from '../../field/solve/marginRange'
import { gatherSamples } from '../../field/readings/samples'
import { DEFAULT_FILTERS, type RunColumns } from '../../run/run'
import type { LoadGrid } from '../../table/table'

/** Rows and speeds wide enough for any engine: only the stops of the runs themselves count here. */
const GRID: LoadGrid = {
  loadAxis: 'throttle',
  rpm: Array.from({ length: 40 }, (_, k) => 500 + 500 * k),
  load: [0, 5, 10, 20, 30, 40, 50, 60, 70, 80, 90, 100],
}

/**
 * Misfires that all runs of a stop show alike, so that none of them is odd among its repeats.
 *
 * @param lag s; @param cylinders of the engine; null when nobody said
 */
export function sharedMisfires(runs: readonly RunColumns[], lag: number, cylinders: number | null): MisfireZone[] {
  const logged = runs.filter((run) => run.throttle && run.lambda.length > 0 && !run.handRange)
  if (logged.length < 2) return []
  const samples = gatherSamples(logged, {
    loadAxis: 'throttle',
    lag,
    filters: DEFAULT_FILTERS,
    range: marginRange(GRID),
  })
  return samples.count ? findMisfires(GRID, samples, logged, cylinders) : []
}
