import {
  FieldError,
  fieldRuns,
  fieldSet,
  InputError,
  jobTarget,
  madeOnNewest,
  settleFieldOptions,
  type Field,
  type FieldRequest,
  type Job,
  type LoadGrid,
  type RunInfo,
  type TableInfo,
  type TableSince,
} from '@yuzumix/core'
import type { WorkPool } from '../pool/pool'
import type { Store } from '../store/database'
import { loadColumns } from '../store/columns'
import { listRuns } from '../store/runs'
import { listSets } from '../store/sets'
import { findRevision, listTables } from '../store/tables'

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

/** Fuel tables as they were at first and as they stood while some runs were made, where the two differ. */
async function correctedBefore(
  store: Store,
  tables: readonly TableInfo[],
  runs: readonly RunInfo[],
): Promise<TableSince[]> {
  const { revisions } = madeOnNewest(runs, tables)
  const corrected = tables.map(async ({ job, id, cylinder, revisions: all }) => {
    const [first, now] = [all[0]!.n, revisions.get(id)]
    if (now === undefined || now === first) return []
    const [then, present] = await Promise.all([first, now].map((n) => findRevision(store, job, id, n)))
    return then && present ? [{ cylinder, then: then.table, now: present.table }] : []
  })
  return (await Promise.all(corrected)).flat()
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
  const fuelTables = (await listTables(store, job.id)).filter((one) => one.table.kind.startsWith('fuel'))
  const grid = table ?? fuelTables[0]?.table ?? null
  const options = settleFieldOptions(request, {
    mixture: table ? { ...job.mixture, breakpoints: null } : job.mixture,
    target: jobTarget(job),
    probes: job.rigging?.probes,
    corrected: await correctedBefore(store, fuelTables, runs),
    revCeiling: job.limits?.revCeiling ?? null,
    table: grid,
    highestRpm: highest('rpm'),
    hasThrottle: runs.some((run) => run.channels.some((one) => one.channel === 'throttle')),
  })
  return pool.solveField(await loadColumns(store, runs), options, signal)
}
