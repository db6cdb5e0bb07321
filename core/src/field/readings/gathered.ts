import { refused } from '../../refusal/refusal'
import { bySweep } from '../../run/bySweep'
import { byCylinder } from '../../run/probes'
import type { RunColumns, SetAside } from '../../run/run'
import { byState } from './byState'
import { lagOfSweeps } from '../lag/lagOfMachine'
import { withoutWarmUps } from './withoutWarmUps'
import { type FieldOptions } from '../field'
import { isSameZone, type HeldZone } from '../held/heldZones'
import { appliedLag, fixedLag, type LagEstimate } from '../lag/lag'
import { marginRange } from '../solve/marginRange'
import { findMisfires, withoutMisfires, type MisfireZone } from '../faults/misfires'
import { gatherSamples, thinSamples, type Samples } from './samples'
import { zonesBelow } from '../held/zonesBelow'
import { zonesThatStandOut } from '../held/zonesThatStandOut'
import { loggedAmong, zonesAmong } from '../held/zonesOfRuns'

/** What is known of runs before a field is solved from them. */
interface Gathered {
  /** sweep by sweep */
  runs: RunColumns[]
  /** as asked, by those runs */
  options: FieldOptions
  lag: LagEstimate
  misfires: MisfireZone[]
  heldZones: HeldZone[]
  /** readings that count */
  all: Samples
}

/**
 * Lag, screening, misfires and held zones of some runs.
 *
 * @throws Refusal 'no-field' when no run has a usable reading
 */
export function gather(given: readonly RunColumns[], asked: FieldOptions, knownLag: LagEstimate | null): Gathered {
  const sweeps = given.map(bySweep)
  const since = sweeps.flatMap((own, r) => own.map(() => asked.since[r] ?? []))
  const options = { ...asked, since }
  const runs = sweeps.flat().map((run) => byCylinder(run, options.probes))
  const { grid, filters } = options
  if (runs.length === 0)
    throw refused('no-field', 'There are no runs to estimate from. Add a run, or choose at least one.', 'runs')
  const lag = options.lag !== null ? fixedLag(options.lag) : (knownLag ?? lagOfSweeps(byState(runs, since), options))
  const gathered = gatherSamples(runs, {
    loadAxis: grid.loadAxis,
    lag: appliedLag(lag),
    filters,
    range: marginRange(grid),
  })
  const misfires = findMisfires(grid, gathered, runs, options.engineCylinders ?? null)
  const isWarmUp = runs.map((run) => options.warmUps?.includes(run.id) ?? false)
  const thinned = thinSamples(withoutWarmUps(gathered, isWarmUp), options.mostSamples)
  const all = withoutMisfires(thinned, runs, misfires)
  if (!all.usable.includes(true)) {
    throw refused(
      'no-field',
      `None of these runs has a ${grid.loadAxis} column, which the table's rows need.`,
      'loadAxis',
    )
  }
  if (all.count === 0)
    throw refused(
      'no-field',
      `No reading is left to estimate from: ${reasonsInWords(all.setAside)}. Loosen the filters or add a run.`,
      'options',
    )

  const { knownZones, correctedBefore } = options
  const found = options.hasLoop
    ? zonesThatStandOut(options, all, zonesAmong(grid, all, runs, knownZones, options.target), lag)
    : []
  const heldZones = [...found, ...zonesBelow(grid, loggedAmong(all, runs), found)].map((zone) =>
    correctedBefore && !knownZones.some((one) => isSameZone(one, zone)) ? { ...zone, isLate: true } : zone,
  )
  return { runs, options, lag, misfires, all, heldZones }
}

function reasonsInWords(setAside: readonly SetAside[]): string {
  const sums = new Map<string, number>()
  for (const one of setAside)
    for (const [reason, count] of Object.entries(one)) sums.set(reason, (sums.get(reason) ?? 0) + count)
  return (
    [...sums]
      .sort((a, b) => b[1] - a[1])
      .map(([reason, count]) => `${reason} ${count}`)
      .join(', ') || 'the runs are empty'
  )
}
