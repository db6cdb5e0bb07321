import { refused } from '../refusal/refusal'
import type { FieldRequest } from '../contract/field'
import type { RunInfo } from '../run/runInfo'
import type { TableSince } from '../change/sinceMeasured'
import { warmUpIds } from '../curves/lay/warmUpIds'
import { type Field, type FieldOptions } from '../field/field'
import type { FieldWork } from '../field/estimate'
import { workOfPasses, type KeepPart } from '../field/fieldOfPasses'
import { firstStates, madeOnNewest } from './madeOn'
import { highestRpm } from '../run/highestRpm'
import type { LoadGrid } from '../table/table'
import { fieldRuns, fieldSet, namedRuns } from './fieldRuns'
import type { ColumnsOf, JobGround, Loader } from './ground'
import { jobTarget } from './jobTarget'
import { mayHaveLoop } from './mayHaveLoop'
import { passesBefore } from './passesBefore'
import { settleFieldOptions } from './settleFieldOptions'
import { fuelTables, latestStates, plainFuelTables, statesOf, tablesBetween } from './states'

/** A field as it is asked for; what is left out is as the job has chosen it. */
export interface FieldAsked extends FieldRequest {
  /** set whose runs make it */
  set?: string | undefined
  /** breakpoints of a table to be changed, whatever breakpoints the job has chosen */
  grid?: LoadGrid | null | undefined
}

/** What a field is worked out from. */
export interface FieldQuestion {
  /** runs that make it */
  runs: RunInfo[]
  /** runs of the same set that were made on older states of the fuel tables: readings of other fuelling, left out */
  older: RunInfo[]
  /** runs of each pass before on the same hardware, oldest first */
  before: RunInfo[][]
  options: FieldOptions
}

/** What of the options comes of the runs and of the states of the tables they were made on. */
interface Made {
  runs: readonly RunInfo[]
  corrected: TableSince[]
  correctedByPass?: TableSince[][]
  since?: TableSince[][]
  /** rpm that breakpoints of our own reach at least, where there is no table */
  toRpm?: number
}

/** Options of a field of a job. @throws Refusal 'input-refused' when breakpoints or target do not fit */
export function fieldOptions(
  { job, tables }: JobGround,
  { grid = null, ...request }: FieldAsked,
  { runs, corrected, correctedByPass = [], since, toRpm = 0 }: Made,
): FieldOptions {
  return settleFieldOptions(request, {
    mixture: grid ? { ...job.mixture, breakpoints: null } : job.mixture,
    target: jobTarget(job),
    probes: job.rigging?.probes,
    engineCylinders: job.machine?.cylinders,
    hasLoop: mayHaveLoop(job),
    corrected,
    correctedBefore: correctedByPass[0] ?? null,
    correctedByPass,
    since,
    revCeiling: job.limits?.revCeiling ?? null,
    table: grid ?? plainFuelTables(tables)[0]?.table ?? null,
    highestRpm: Math.max(toRpm, highestRpm(runs)),
    // Without any run rows stand for openings, as most tables' do.
    hasThrottle: runs.length === 0 || runs.some((run) => run.channels.some((one) => one.channel === 'throttle')),
  })
}

/**
 * Puts together what a job's field is worked out from: the runs asked for, or of the set those on the newest state of the
 * fuel tables; the passes before them; and what was corrected by then.
 *
 * @returns runs may be none
 * @throws Refusal 'input-refused' for a run that is not there, and for breakpoints or a target that do not fit
 * @example
 * const question = await fieldQuestion(ground, loader, { lagMs: 180 })
 */
export async function fieldQuestion(
  ground: JobGround,
  loader: Pick<Loader, 'revision'>,
  asked: FieldAsked = {},
): Promise<FieldQuestion> {
  const { job, sets, runs: all } = ground
  const tables = fuelTables(ground.tables)
  const own = fieldRuns(job.mixture, asked.set ?? fieldSet(job.mixture, sets, all), all)
  const { runs, older } = asked.runs ? { runs: namedRuns(all, asked.runs), older: [] } : madeOnNewest(own, tables)
  const before = passesBefore(runs, { mixture: job.mixture, sets, runs: all, tables })
  const began = firstStates(all, tables)
  const upTo = (some: readonly RunInfo[]): Promise<TableSince[]> =>
    tablesBetween(loader, tables, began, madeOnNewest(some, tables).revisions)
  const [corrected, ...correctedByPass] = await Promise.all([runs, ...before].map(upTo))
  return { runs, older, before, options: fieldOptions(ground, asked, { runs, corrected: corrected!, correctedByPass }) }
}

/**
 * The same for runs that were made on several states, each taken as it would read on the tables as they are now.
 *
 * @param runs of one setup; may be none
 * @param toRpm rpm that breakpoints of our own reach at least, where there is no table
 */
export async function presentFieldQuestion(
  ground: JobGround,
  loader: Pick<Loader, 'revision'>,
  runs: RunInfo[],
  asked: FieldAsked,
  toRpm: number,
): Promise<FieldQuestion> {
  const tables = fuelTables(ground.tables)
  const latest = latestStates(tables)
  const [corrected, since] = await Promise.all([
    tablesBetween(loader, tables, firstStates(runs, tables), latest),
    Promise.all(runs.map((run) => tablesBetween(loader, tables, statesOf(run, tables), latest))),
  ])
  return { runs, older: [], before: [], options: fieldOptions(ground, asked, { runs, corrected, since, toRpm }) }
}

/**
 * The field that a question asks for, and what it was worked out from.
 *
 * @throws Refusal 'no-field' when there is no run, or nothing can be estimated from them
 */
export function workOfField(
  { runs, before, options }: FieldQuestion,
  columnsOf: ColumnsOf,
  keep?: KeepPart,
  last?: FieldWork | null,
): ReturnType<typeof workOfPasses> {
  if (runs.length === 0)
    throw refused('no-field', 'There are no runs to estimate from. Add a run, or choose at least one.', 'runs')
  const [own, passes] = [columnsOf(runs), before.map(columnsOf)]
  return workOfPasses(own, passes, { ...options, warmUps: warmUpIds([...passes, own]) }, keep, last)
}

/** The field alone. @throws Refusal 'no-field' as there */
export const answerField = (question: FieldQuestion, columnsOf: ColumnsOf): Field =>
  workOfField(question, columnsOf).field
