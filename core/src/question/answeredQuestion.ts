import { inputRefused } from '../refusal/refusal'
import { answered, type FuelAnswered } from '../delivery/answered'
import type { WayKind } from '../delivery/ways'
import type { TableSince } from '../change/sinceMeasured'
import { steadinessOf } from '../field/readings/steadiness'
import type { RunColumns } from '../run/run'
import type { RunInfo } from '../run/runInfo'
import { answeredWords } from '../words/answeredWords'
import { answerField, fieldQuestion, type FieldQuestion } from './fieldQuestion'
import type { ColumnsOf, JobGround, Loader } from './ground'
import { revisionOf } from './madeOn'
import { fuelTables, tablesBetween } from './states'

/** What is asked: whether the mixture answered to the newest revision of a table that runs were made on. */
export interface AnsweredQuestion {
  /** the way that the revision put in; a whole table where it is none */
  kind: WayKind
  table: string
  /** revisions that are compared; runs of both are there */
  from: number
  to: number
  before: FieldQuestion
  after: FieldQuestion
  moved: TableSince[]
}

/**
 * Puts together whether the mixture answered: the runs of the two newest states of a table that runs were made on, on the same
 * hardware.
 *
 * @param asked.table id of a fuel table
 * @returns null where runs were made on one state of it alone
 * @throws Refusal 'input-refused' when there is no such fuel table
 */
export async function answeredQuestion(
  ground: JobGround,
  loader: Pick<Loader, 'revision'>,
  asked: { table: string; lagMs?: number | null | undefined },
): Promise<AnsweredQuestion | null> {
  const tables = fuelTables(ground.tables)
  const info = tables.find((one) => one.id === asked.table)
  if (!info) throw inputRefused([{ field: 'table', message: 'is no fuel table of this job' }])
  const setups = new Map(ground.sets.map((set) => [set.id, set.setup.trim()]))
  const hasMixture = (run: RunInfo): boolean => run.channels.some((one) => one.channel.startsWith('lambda'))
  const all = ground.runs.filter((run) => hasMixture(run) && run.leftOut?.fromRpm !== null)
  const to = Math.max(0, ...all.map((run) => revisionOf(run, info)))
  const after = all.filter((run) => revisionOf(run, info) === to)
  const setup = setups.get(after.at(-1)?.set ?? '')
  const same = all.filter((run) => setups.get(run.set) === setup)
  const from = Math.max(0, ...same.map((run) => revisionOf(run, info)).filter((n) => n < to))
  const before = same.filter((run) => revisionOf(run, info) === from)
  if (!after.length || !before.length) return null
  const { rpm, load, loadAxis } = info.table
  const grid = { rpm, load, loadAxis }
  const fieldOf = (runs: readonly RunInfo[]): Promise<FieldQuestion> =>
    fieldQuestion(ground, loader, { runs: runs.map((run) => run.id), grid, ...grid, lagMs: asked.lagMs })
  const stateOf = (run: RunInfo): Map<string, number> => new Map(tables.map((one) => [one.id, revisionOf(run, one)]))
  const [one, other, moved] = await Promise.all([
    fieldOf(before),
    fieldOf(after),
    tablesBetween(loader, tables, stateOf(before.at(-1)!), stateOf(after.at(-1)!)),
  ])
  const kind = info.revisions.find((revision) => revision.n === to)?.way?.asked.kind ?? 'table'
  return { kind, table: info.id, from, to, before: one, after: other, moved }
}

/** Whether the mixture answered. @throws Refusal 'no-field' when runs of either state have no usable reading */
export function answerAnswered({ before, after, moved }: AnsweredQuestion, columnsOf: ColumnsOf): FuelAnswered {
  const side = (question: FieldQuestion) => {
    const runs = columnsOf(question.runs)
    return {
      field: answerField({ ...question, before: [] }, columnsOf),
      steady: steadinessOf(runs, question.options.filters),
      coolant: coolantOf(runs),
    }
  }
  return answered(side(before), side(after), moved)
}

/** Mean coolant while the engine ran warm enough to count, °C; null where nothing tells. */
function coolantOf(runs: readonly RunColumns[]): number | null {
  let [sum, count] = [0, 0]
  for (const { coolant } of runs)
    for (const one of coolant ?? [])
      if (one > 0) {
        sum += one
        count++
      }
  return count ? sum / count : null
}

/** As the HTTP interface answers it: with its words. */
export const answeredAnswer = ({ kind, table, from, to }: AnsweredQuestion, told: FuelAnswered) => ({
  kind,
  table,
  from,
  to,
  ...told,
  text: answeredWords(told, kind).join(' '),
})
