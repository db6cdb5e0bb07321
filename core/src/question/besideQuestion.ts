import type { FieldRequest } from '../contract/field'
import { besideOf, type Beside } from '../field/beside/besideOf'
import { lagOfMachine } from '../field/lag/lagOfMachine'
import { appliedLag } from '../field/lag/lag'
import type { LoadGrid } from '../table/table'
import type { BesideAnswer } from '../contract/beside'
import { heatWords } from '../words/besideWords'
import { fieldQuestion, type FieldQuestion } from './fieldQuestion'
import type { ColumnsOf, JobGround, Loader } from './ground'

/** What is asked: what was read beside the mixture of a field. */
export interface BesideQuestion {
  field: FieldQuestion
  grid: LoadGrid
  /** °C of exhaust gas that the machine bears */
  exhaustC: number
}

/** °C that exhaust gas is kept under close to the port: two-strokes, and four-strokes. Common practice; a maker's own figure goes first. */
const USUAL_EXHAUST = { two: 650, four: 850 }
/** % of the time that injectors are kept open at the most; °C of a head. Common practice. */
const [MOST_DUTY, MOST_HEAD] = [85, 220]

/** Puts together what was read beside the mixture. @throws Refusal as `fieldQuestion` */
export async function besideQuestion(
  ground: JobGround,
  loader: Pick<Loader, 'revision'>,
  asked: FieldRequest = {},
): Promise<BesideQuestion> {
  const field = await fieldQuestion(ground, loader, asked)
  const { machine, limits } = ground.job
  const usual = machine?.strokes === 2 ? USUAL_EXHAUST.two : USUAL_EXHAUST.four
  return { field, grid: field.options.grid, exhaustC: limits?.exhaustC ?? usual }
}

export function answerBeside({ field, grid, exhaustC }: BesideQuestion, columnsOf: ColumnsOf): Beside {
  const { runs, options } = field
  const columns = columnsOf(runs)
  const told = lagOfMachine([columns], options)
  const lag = told ? appliedLag(told) : options.lag!
  const limitOf = (channel: string): number | null =>
    channel.startsWith('exhaust')
      ? exhaustC
      : channel.startsWith('duty')
        ? MOST_DUTY
        : channel === 'head'
          ? MOST_HEAD
          : null
  return besideOf(columns, grid, { lag: typeof lag === 'number' ? lag : lag.base, filters: options.filters }, limitOf)
}

/** As the HTTP interface answers it. */
export const besideAnswer = ({ grid }: BesideQuestion, beside: Beside): BesideAnswer => ({
  rpm: [...grid.rpm],
  load: [...grid.load],
  loadAxis: grid.loadAxis,
  ...beside,
  heat: { ...beside.heat, said: heatWords(beside.heat) },
})
