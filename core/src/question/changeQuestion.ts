import type { FieldAnswer } from '../contract/field'
import type { TableInfo } from '../contract/table'
import { changeShape, type ChangeShape } from '../change/shape'
import { DEFAULT_LIMITS, type ChangeLimits } from '../change/limits'
import { cellsSince } from '../change/sinceMeasured'
import { suggestChange, type SuggestedChange } from '../change/suggest'
import type { Field } from '../field/field'
import { madeOnNewest, untoldRuns, type Untold } from './madeOn'
import type { RunInfo } from '../run/runInfo'
import { sameGrid, type Table } from '../table/table'
import { fieldAnswer } from './fieldAnswer'
import { fieldQuestion, type FieldAsked, type FieldQuestion } from './fieldQuestion'
import { fieldRuns, fieldSet, namedRuns } from './fieldRuns'
import type { JobGround, Loader } from './ground'
import { tablesActing, tablesSince, type TableMoved } from './states'

/** A change of a fuel table as it is asked for. */
export interface ChangeAsked extends Omit<FieldAsked, 'grid' | 'rpm' | 'load' | 'loadAxis'> {
  /** the table, one of the job's fuel tables, in the state that the change starts from */
  table: TableInfo
  /** cylinder whose field is taken; the one that the table serves when left out */
  cylinder?: number | null | undefined
}

/** What a change of a fuel table is worked out from. */
export interface ChangeQuestion {
  field: FieldQuestion
  table: Pick<TableInfo, 'id' | 'cylinder' | 'table'>
  /** cylinder whose field is taken; null for what all need */
  cylinder: number | null
  /** fuel tables that moved since the runs were made */
  since: TableMoved[]
  /** revision of the table that the runs were made on, and the latest; null without runs */
  revision: number | null
  latest: number
  /** runs of which it is not known what they were made on, by table: nothing may be suggested before somebody says */
  untold: Untold[]
}

/** Runs that a change may rest on, whatever state they were made on. */
export function changeRuns({ job, sets, runs }: JobGround, asked: Pick<FieldAsked, 'runs' | 'set'>): RunInfo[] {
  if (asked.runs) return namedRuns(runs, asked.runs)
  return fieldRuns(job.mixture, asked.set ?? fieldSet(job.mixture, sets, runs), runs)
}

/**
 * Puts together what a change of one fuel table is worked out from: the field on its breakpoints, of runs on the newest state
 * only, and what moved since.
 *
 * @throws Refusal 'input-refused' for a run that is not there, and for a target that does not fit
 */
export async function changeQuestion(
  ground: JobGround,
  loader: Pick<Loader, 'revision'>,
  asked: ChangeAsked,
): Promise<ChangeQuestion> {
  const { table, cylinder, ...request } = asked
  const { inForce } = table
  const tables = tablesActing(ground.tables, inForce)
  const all = changeRuns(ground, asked)
  const made = madeOnNewest(all, tables)
  const { rpm, load, loadAxis } = table.table
  const named = {
    ...request,
    runs: made.runs.map((run) => run.id),
    rpm,
    load,
    loadAxis,
    grid: { rpm, load, loadAxis },
    inForce,
  }
  const [field, since] = await Promise.all([
    fieldQuestion(ground, loader, named),
    tablesSince(loader, tables, made.revisions),
  ])
  return {
    field: { ...field, older: made.older },
    table: { id: table.id, cylinder: table.cylinder, table: table.table },
    cylinder: cylinder ?? table.cylinder,
    since: since.map((one) => (one.id === table.id ? { ...one, now: table.table } : one)),
    revision: made.revisions.get(table.id) ?? null,
    latest: table.revisions.at(-1)!.n,
    untold: tables.flatMap((one) => untoldRuns(all, one) ?? []),
  }
}

/**
 * The change that a question asks for.
 *
 * @param field the answer to its field
 * @returns null where the field stands on other breakpoints, or it is not known what the runs were made on
 */
export function answerChange(
  { table: { table }, cylinder, since, untold }: ChangeQuestion,
  field: Field,
  limits: Partial<ChangeLimits> = {},
): SuggestedChange | null {
  if (untold.length || !sameGrid(table, field.grid)) return null
  return suggestChange(table, field, { ...DEFAULT_LIMITS, ...limits }, cylinder, since)
}

/** A change as the HTTP interface answers it. */
export interface ChangeTold extends SuggestedChange {
  table: string
  field: FieldAnswer
  measuredOn: { revision: number | null; latest: number; changedCells: number; olderRuns: string[] }
  shape: ChangeShape
}

/** What the runs of a change were made on: cells that moved since, and runs of older states that were left out. */
export function measuredOn({ table, since, revision, latest, field }: ChangeQuestion): ChangeTold['measuredOn'] {
  const own = since.find((one) => one.id === table.id)
  return {
    revision,
    latest,
    changedCells: own ? cellsSince(own) : 0,
    olderRuns: field.older.map((run) => run.id),
  }
}

/** A change with all that it rests on, as the HTTP interface answers it. */
export function changeAnswer(question: ChangeQuestion, field: Field, change: SuggestedChange): ChangeTold {
  const { id, table }: { id: string; table: Table } = question.table
  return {
    table: id,
    field: fieldAnswer(field),
    measuredOn: measuredOn(question),
    ...change,
    shape: changeShape(table, change),
  }
}
