import { DEFAULT_FILTERS, plainFuelTables, type Doubt, type Field, type Job, type RunInfo } from '@yuzumix/core'
import { storedColumns } from '../../store/columns'
import { listTables } from '../../store/tables'
import type { Workshop } from '../questions/ask'

/**
 * What of some runs of one set is not to be believed before it is cleared.
 *
 * @param field of these runs, for how their readings scatter; null where there is none
 */
export async function doubtsFor(
  { store, pool, doubts }: Workshop,
  job: Job,
  runs: readonly RunInfo[],
  field: Field | null,
  signal: AbortSignal,
): Promise<Doubt[]> {
  if (runs.length === 0) return []
  const { machine, limits, mixture } = job
  const ground = {
    displacementCc: machine?.displacementCc ?? null,
    cylinders: machine?.cylinders ?? null,
    strokes: machine?.strokes ?? null,
    revCeiling: limits?.revCeiling ?? null,
    grid: plainFuelTables(await listTables(store, job.id))[0]?.table ?? null,
    coolantLeast: mixture.filters.coolantLeast ?? DEFAULT_FILTERS.coolantLeast,
    noise: field ? Math.max(0, ...field.cylinders.map((one) => one.noise)) : null,
    names: Object.fromEntries(runs.map((run) => [run.id, run.name])),
  }
  return doubts.ask({ runs, ground }, async () =>
    pool.lookOver({ runs: await storedColumns(store, runs, 'curves'), ground }, signal),
  )
}
