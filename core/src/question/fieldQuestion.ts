import { refused } from '../refusal/refusal'
import type { FieldRequest } from '../contract/field'
import type { RunInfo } from '../run/runInfo'
import type { TableSince } from '../change/sinceMeasured'
import { warmUpIds } from '../curves/lay/warmUpIds'
import { type Field, type FieldOptions } from '../field/field'
import type { FieldWork } from '../field/estimate'
import { commandedByLog } from '../field/readings/commandedByLog'
import { workOfPasses, type KeepPart } from '../field/fieldOfPasses'
import { firstStates, madeOnNewest } from './madeOn'
import { highestRpm } from '../run/highestRpm'
import { bookedTo, type InForce } from '../table/inForce'
import type { LoadGrid, Matrix, Table } from '../table/table'
import { fieldRuns, fieldSet, namedRuns } from './fieldRuns'
import type { ColumnsOf, JobGround, Loader } from './ground'
import { jobTarget } from './jobTarget'
import { mayHaveLoop } from './mayHaveLoop'
import { passesBefore } from './passesBefore'
import { settleFieldOptions } from './settleFieldOptions'
import {
  commandedTable,
  fuelTables,
  latestStates,
  plainFuelTables,
  statesOf,
  tablesActing,
  tablesBetween,
} from './states'

/** A field as it is asked for; what is left out is as the job has chosen it. */
export interface FieldAsked extends FieldRequest {
  /** set whose runs make it */
  set?: string | undefined
  /** breakpoints of a table to be changed, whatever breakpoints the job has chosen */
  grid?: LoadGrid | null | undefined
  /** where that table is in force: readings of other maps, and what was changed in those, do not count */
  inForce?: InForce | null | undefined
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
  /** table that commanded lambda while the runs were made; null without one beside a table of filling, or where a target was asked for */
  commanded: Table | null
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
  { grid = null, inForce = null, ...request }: FieldAsked,
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
    commanded: commandedTable(tables)?.table ?? null,
    inForce:
      inForce &&
      bookedTo(
        inForce,
        fuelTables(tables).map((one) => one.inForce),
      ),
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
  const tables = tablesActing(ground.tables, asked.inForce ?? null)
  const own = fieldRuns(job.mixture, asked.set ?? fieldSet(job.mixture, sets, all), all)
  const { runs, older } = asked.runs ? { runs: namedRuns(all, asked.runs), older: [] } : madeOnNewest(own, tables)
  const before = passesBefore(runs, { mixture: job.mixture, sets, runs: all, tables })
  const began = firstStates(all, tables)
  const upTo = (some: readonly RunInfo[]): Promise<TableSince[]> =>
    tablesBetween(loader, tables, began, madeOnNewest(some, tables).revisions)
  const [corrected, ...correctedByPass] = await Promise.all([runs, ...before].map(upTo))
  const options = fieldOptions(ground, asked, { runs, corrected: corrected!, correctedByPass })
  return { runs, older, before, options, commanded: asked.target === undefined ? await commandedThen() : null }

  async function commandedThen(): Promise<Table | null> {
    const commanding = commandedTable(ground.tables)
    const n = commanding && madeOnNewest(runs, tables).revisions.get(commanding.id)
    return commanding && n !== undefined ? loader.revision(job.id, commanding.id, n!) : null
  }
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
  const tables = tablesActing(ground.tables, asked.inForce ?? null)
  const latest = latestStates(tables)
  const [corrected, since] = await Promise.all([
    tablesBetween(loader, tables, firstStates(runs, tables), latest),
    Promise.all(runs.map((run) => tablesBetween(loader, tables, statesOf(run, tables), latest))),
  ])
  const options = fieldOptions(ground, asked, { runs, corrected, since, toRpm })
  return { runs, older: [], before: [], options, commanded: null }
}

/**
 * The field that a question asks for, and what it was worked out from.
 *
 * @throws Refusal 'no-field' when there is no run, or nothing can be estimated from them
 */
export function workOfField(
  { runs, before, options: asked, commanded }: FieldQuestion,
  columnsOf: ColumnsOf,
  keep?: KeepPart,
  last?: FieldWork | null,
): ReturnType<typeof workOfPasses> {
  if (runs.length === 0)
    throw refused('no-field', 'There are no runs to estimate from. Add a run, or choose at least one.', 'runs')
  const [own, passes] = [columnsOf(runs), before.map(columnsOf)]
  const logged = commanded && commandedByLog(own, asked.grid, commanded)
  const options = logged ? { ...asked, target: times(asked.target, logged.ratio) } : asked
  const { field, work } = workOfPasses(own, passes, { ...options, warmUps: warmUpIds([...passes, own]) }, keep, last)
  return { field: logged ? { ...field, commandedUnlike: logged.unlike } : field, work }
}

const times = (values: Matrix, by: Matrix): Matrix =>
  values.map((cells, row) => cells.map((one, column) => one * by[row]![column]!))

/** The field alone. @throws Refusal 'no-field' as there */
export const answerField = (question: FieldQuestion, columnsOf: ColumnsOf): Field =>
  workOfField(question, columnsOf).field
