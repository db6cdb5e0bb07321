import {
  FieldError,
  fieldRuns,
  firstStates,
  fieldSet,
  highestRpm,
  InputError,
  jobTarget,
  madeOnNewest,
  passesBefore,
  settleFieldOptions,
  type Doubt,
  type Field,
  type FieldOptions,
  type FieldRequest,
  type Job,
  type LoadGrid,
  type RunInfo,
  type TableInfo,
  type TableSince,
  mayHaveLoop,
} from '@yuzumix/core'
import type { WorkPool } from '../pool/pool'
import type { Remembered } from '../pool/remembered'
import type { Store } from '../store/database'
import { loadColumns } from '../store/columns'
import { listRuns } from '../store/runs'
import { listSets } from '../store/sets'
import { findRevision, listTables } from '../store/tables'

/** What computes on stored runs. */
export interface Workshop {
  store: Store
  pool: WorkPool
  /** fields worked out lately: report, verdict and stages ask for the same ones */
  fields: Remembered<Field>
  /** what was in doubt of runs looked over lately */
  doubts: Remembered<Doubt[]>
}

/** Runs that make the job's field, whatever revision they were made on. */
export async function fieldRunsOf({ store }: Workshop, job: Job): Promise<RunInfo[]> {
  const [all, sets] = await Promise.all([listRuns(store, job.id), listSets(store, job.id)])
  return fieldRuns(job.mixture, fieldSet(job.mixture, sets, all), all)
}

/**
 * Runs that a request names, or else those that make the job's field: of its set those on the newest revision, since
 * readings of different fuelling must not be averaged.
 *
 * @throws InputError for a run that the job does not have
 */
export async function runsFor(workshop: Workshop, job: Job, wanted: string[] | undefined): Promise<RunInfo[]> {
  if (!wanted) return madeOnNewest(await fieldRunsOf(workshop, job), await fuelTablesOf(workshop.store, job)).runs
  const all = await listRuns(workshop.store, job.id)
  const unknown = wanted.filter((id) => !all.some((run) => run.id === id))
  if (unknown.length)
    throw new InputError(
      unknown.map((id) => ({ field: 'runs', message: `there is no run ${id.slice(0, 40)} in this job` })),
    )
  return all.filter((run) => wanted.includes(run.id))
}

/**
 * Fuel tables as they were at one revision and at another, where the two differ.
 *
 * @param from revision by table
 */
export async function tablesBetween(
  store: Store,
  tables: readonly TableInfo[],
  from: ReadonlyMap<string, number>,
  to: ReadonlyMap<string, number>,
): Promise<TableSince[]> {
  const between = tables.map(async ({ job, id, cylinder }) => {
    const [first, last] = [from.get(id), to.get(id)]
    if (first === undefined || last === undefined || last === first) return []
    const [then, now] = await Promise.all([first, last].map((n) => findRevision(store, job, id, n)))
    return then && now ? [{ cylinder, then: then.table, now: now.table }] : []
  })
  return (await Promise.all(between)).flat()
}

export async function fuelTablesOf(store: Store, job: Job): Promise<TableInfo[]> {
  return (await listTables(store, job.id)).filter((one) => one.table.kind.startsWith('fuel'))
}

/** What of a field's options comes from its runs and from the tables they were made on. */
interface Made {
  runs: readonly RunInfo[]
  /** fuel tables before and after what was corrected, and by run what was corrected after it */
  corrected: TableSince[]
  /** what of that was corrected before the first pass before; null without one */
  correctedBefore?: TableSince[] | null
  /** the same, up to each pass before */
  correctedByPass?: TableSince[][]
  since?: TableSince[][]
  /** rpm that breakpoints of our own reach at least, where there is no table */
  toRpm?: number
}

/** Options of a field of a job, on a table's breakpoints when one is given. */
export function fieldOptionsFor(
  job: Job,
  { runs, corrected, correctedBefore, correctedByPass, since, toRpm = 0 }: Made,
  request: FieldRequest,
  table: LoadGrid | null,
  jobTable: LoadGrid | null,
): FieldOptions {
  return settleFieldOptions(request, {
    mixture: table ? { ...job.mixture, breakpoints: null } : job.mixture,
    target: jobTarget(job),
    probes: job.rigging?.probes,
    engineCylinders: job.machine?.cylinders,
    hasLoop: mayHaveLoop(job),
    corrected,
    correctedBefore,
    correctedByPass,
    since,
    revCeiling: job.limits?.revCeiling ?? null,
    table: table ?? jobTable,
    highestRpm: Math.max(toRpm, highestRpm(runs)),
    // Without any run rows stand for openings, as most tables' do.
    hasThrottle: runs.length === 0 || runs.some((run) => run.channels.some((one) => one.channel === 'throttle')),
  })
}

/**
 * The field of some runs, on a table's breakpoints when one is given.
 *
 * @throws FieldError when nothing can be estimated from them
 */
export async function fieldFor(
  { store, pool, fields }: Workshop,
  job: Job,
  runs: readonly RunInfo[],
  request: FieldRequest,
  table: LoadGrid | null,
  signal: AbortSignal,
): Promise<Field> {
  if (runs.length === 0)
    throw new FieldError('There are no runs to estimate from. Add a run, or choose at least one.', 'runs')
  const [tables, sets, all] = await Promise.all([
    fuelTablesOf(store, job),
    listSets(store, job.id),
    listRuns(store, job.id),
  ])
  const before = passesBefore(runs, { mixture: job.mixture, sets, runs: all, tables })
  const began = firstStates(all, tables)
  const upTo = (some: readonly RunInfo[]): Promise<TableSince[]> =>
    tablesBetween(store, tables, began, madeOnNewest(some, tables).revisions)
  const [corrected, ...correctedByPass] = await Promise.all([runs, ...before].map(upTo))
  const made = { runs, corrected: corrected!, correctedBefore: correctedByPass[0] ?? null, correctedByPass }
  const options = fieldOptionsFor(job, made, request, table, tables[0]?.table ?? null)
  // A run's columns hang on nothing but what is said of it here.
  return fields.ask({ runs, before, options }, async () => {
    const [columns, ...earlier] = await Promise.all([runs, ...before].map((some) => loadColumns(store, some)))
    return pool.solveField({ runs: columns!, before: earlier, options }, signal)
  })
}
