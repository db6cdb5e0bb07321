import { bySweep } from '../../run/bySweep'
import { byCylinder } from '../../run/probes'
import type { RunColumns } from '../../run/run'
import type { FieldOptions } from '../field'
import { lagOfPasses, type LagEstimate } from './lag'

/**
 * The lag of a machine, from all passes that were made on it; null where it is fixed.
 *
 * @param passes runs of each pass
 */
export function lagOfMachine(passes: readonly (readonly RunColumns[])[], options: FieldOptions): LagEstimate | null {
  if (options.lag !== null) return null
  const sweeps = passes.map((runs) => runs.flatMap(bySweep).map((run) => byCylinder(run, options.probes)))
  return lagOfSweeps(sweeps, options)
}

/** The same of runs that are cut into sweeps; readings by hand have none. */
export function lagOfSweeps(passes: readonly (readonly RunColumns[])[], { grid, filters }: FieldOptions): LagEstimate {
  const logged = passes.map((runs) => runs.filter((run) => !run.handRange))
  return lagOfPasses(
    grid,
    logged.filter((runs) => runs.length),
    grid.loadAxis,
    filters,
  )
}
