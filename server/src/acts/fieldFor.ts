import {
  FieldError,
  fieldRuns,
  fieldSet,
  InputError,
  jobTarget,
  settleFieldOptions,
  type Field,
  type FieldRequest,
  type Job,
  type LoadGrid,
  type RunInfo,
} from '@yuzumix/core'
import type { WorkPool } from '../pool/pool'
import type { Store } from '../store/database'
import { loadColumns } from '../store/columns'
import { listRuns } from '../store/runs'
import { listSets } from '../store/sets'
import { listTables } from '../store/tables'

/** What computes on stored runs. */
export interface Workshop {
  store: Store
  pool: WorkPool
}

/**
 * Runs that a request names, or else those that make the job's field.
 *
 * @throws InputError for a run that the job does not have
 */
export async function runsFor({ store }: Workshop, job: Job, wanted: string[] | undefined): Promise<RunInfo[]> {
  const all = await listRuns(store, job.id)
  const unknown = wanted?.filter((id) => !all.some((run) => run.id === id)) ?? []
  if (unknown.length)
    throw new InputError(
      unknown.map((id) => ({ field: 'runs', message: `there is no run ${id.slice(0, 40)} in this job` })),
    )
  return wanted
    ? all.filter((run) => wanted.includes(run.id))
    : fieldRuns(job.mixture, fieldSet(job.mixture, await listSets(store, job.id), all), all)
}

/**
 * The field of some runs, on a table's breakpoints when one is given.
 *
 * @throws FieldError when nothing can be estimated from them
 */
export async function fieldFor(
  { store, pool }: Workshop,
  job: Job,
  runs: readonly RunInfo[],
  request: FieldRequest,
  table: LoadGrid | null,
  signal: AbortSignal,
): Promise<Field> {
  if (runs.length === 0)
    throw new FieldError('There are no runs to estimate from. Add a run, or choose at least one.', 'runs')
  const highest = (channel: string): number =>
    Math.max(0, ...runs.flatMap((run) => run.channels.filter((one) => one.channel === channel).map((one) => one.max)))
  const grid =
    table ?? (await listTables(store, job.id)).find((one) => one.table.kind.startsWith('fuel'))?.table ?? null
  const options = settleFieldOptions(request, {
    mixture: table ? { ...job.mixture, breakpoints: null } : job.mixture,
    target: jobTarget(job),
    probes: job.rigging?.probes,
    revCeiling: job.limits?.revCeiling ?? null,
    table: grid,
    highestRpm: highest('rpm'),
    hasThrottle: runs.some((run) => run.channels.some((one) => one.channel === 'throttle')),
  })
  return pool.solveField(await loadColumns(store, runs), options, signal)
}
