import { inputRefused, isRefusal } from '../refusal/refusal'
import type { TableInfo } from '../contract/table'
import { type Field } from '../field/field'
import { madeOnNewest } from './madeOn'
import { loopStep, passNumber, passSets, proveStep, type LoopStep } from '../rig/loopStep'
import type { Proof } from '../rig/flatness'
import type { Matrix } from '../table/table'
import { answerField, fieldQuestion, type FieldQuestion } from './fieldQuestion'
import { fieldRuns } from './fieldRuns'
import type { ColumnsOf, JobGround, Loader } from './ground'
import { actTogether } from '../table/inForce'
import { fuelTables, plainFuelTables, tablesActing, tablesSince, type TableMoved } from './states'

/** What a step of measure, correct, repeat is worked out from. */
export interface LoopQuestion {
  /** which pass this is, from 1, and its set; null for none */
  pass: number
  set: string | null
  /** fuel tables that are corrected, on the same breakpoints, as they are now, and as they were before their last revision */
  tables: (Pick<TableInfo, 'id' | 'cylinder' | 'table'> & { before: Matrix | null })[]
  field: FieldQuestion
  /** of the pass before in which something was run; null in the first */
  basis: FieldQuestion | null
  /** tables that moved after the runs of this pass were made */
  since: TableMoved[]
}

/**
 * Puts together a step of the loop: the field of the newest pass on the breakpoints of the tables that are corrected, that of
 * the pass before, and what moved since.
 *
 * @param asked.tables ids; all fuel tables of the job but those of other ways when left out
 * @throws Refusal 'input-refused' for a table that is not one of the job's fuel tables, and where there is none
 */
export async function loopQuestion(
  ground: JobGround,
  loader: Pick<Loader, 'revision'>,
  asked: { tables?: readonly string[] | undefined } = {},
): Promise<LoopQuestion> {
  const { job, sets, runs } = ground
  const plain = plainFuelTables(fuelTables(ground.tables))
  // Of maps that take turns the first is corrected: each has readings of its own.
  const together = plain.filter((one) => actTogether(one.inForce, plain[0]!.inForce))
  const tables = asked.tables?.map((id) => fuelTables(ground.tables).find((one) => one.id === id)) ?? together
  if (tables.length === 0 || tables.some((one) => !one))
    throw inputRefused([{ field: 'tables', message: 'must be fuel tables of this job' }])
  const chosen = tables as TableInfo[]
  const { loadAxis, rpm, load } = chosen[0]!.table
  const { inForce } = chosen[0]!
  const all = tablesActing(ground.tables, inForce)
  const passes = passSets(sets)
  const set = passes.at(-1) ?? null
  const earlier = passes.slice(0, -1).findLast((one) => fieldRuns(job.mixture, one.id, runs).length > 0)
  const fieldOf = (id: string | undefined): Promise<FieldQuestion> =>
    fieldQuestion(ground, loader, { set: id ?? '', grid: { loadAxis, rpm, load }, inForce })
  const field = await fieldOf(set?.id)
  const [basis, since, before] = await Promise.all([
    earlier ? fieldOf(earlier.id) : null,
    tablesSince(loader, all, madeOnNewest(field.runs, all).revisions),
    Promise.all(
      chosen.map(async ({ id, revisions }) => {
        const parent = revisions.at(-1)!.parent
        return parent === null ? null : ((await loader.revision(job.id, id, parent))?.values ?? null)
      }),
    ),
  ])
  return {
    pass: passNumber(set ?? undefined),
    set: set?.id ?? null,
    tables: chosen.map(({ id, cylinder, table }, k) => ({ id, cylinder, table, before: before[k]! })),
    field,
    basis,
    since,
  }
}

/** What a pass of the loop came to. */
export interface LoopTold {
  /** null where nothing can be told from the runs of this pass; and why, in words */
  field: Field | null
  note: string
  /** how flat it is, and the change of each table that it asks for */
  step: LoopStep | null
  /** what the pass before predicted against what this one measured; null without a correction between them */
  proof: Proof | null
}

/** The step of the loop that a question asks for. */
export function answerLoop({ tables, field: asked, basis, since }: LoopQuestion, columnsOf: ColumnsOf): LoopTold {
  const known = (question: FieldQuestion | null): { field: Field | null; note: string } => {
    if (!question || question.runs.length === 0) return { field: null, note: '' }
    try {
      return { field: answerField(question, columnsOf), note: '' }
    } catch (error) {
      if (isRefusal(error, 'no-field')) return { field: null, note: error.message }
      throw error
    }
  }
  const { field, note } = known(asked)
  if (!field) return { field, note, step: null, proof: null }
  const corrected = tables.flatMap(({ cylinder, table, before }) => (before ? [{ cylinder, table, before }] : []))
  const first = corrected.length === tables.length ? known(basis).field : null
  return {
    field,
    note,
    step: loopStep(field, tables, since),
    proof: first && proveStep(first, corrected, field),
  }
}
