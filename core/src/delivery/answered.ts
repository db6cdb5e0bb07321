import { isMisfire } from '../field/faults/misfires'
import type { Field } from '../field/field'
import { levelAt } from '../field/levelAt'
import type { Steadiness } from '../field/readings/steadiness'
import { percentFromFactor } from '../fuel/mixture'
import { varianceRatio } from '../numbers/varianceRatio'
import { fuelSince, type TableSince } from '../change/sinceMeasured'
import { HIGH_LOAD } from './wanted'

/** Fuel that the mixture tells against what was put in, % of fuel. */
export interface Answer {
  /** what was put in, on the mean of the cells */
  expectedPct: number
  /** what the mixture tells, with its 90 % interval */
  answeredPct: number
  lowPct: number
  highPct: number
  cells: number
}

/** Whether the engine answered to what was put in, and how steady its mixture is since. */
export interface FuelAnswered {
  verdict: 'as explained' | 'less' | 'less under load' | 'more' | 'untold'
  all: Answer | null
  partLoad: Answer | null
  fullLoad: Answer | null
  /** °C by which the coolant was warmer after; null where nothing tells */
  warmerC: number | null
  /** scatter of the mixture before and after; p of one no larger than chance makes it */
  steadiness: { beforePct: number; afterPct: number; p: number; isWorse: boolean } | null
}

/** Fuel (ln) that must have moved at a cell for it to tell anything. */
const LEAST_MOVED = Math.log(1.01)
/** Half width by which the level of two days' runs differs for no reason, ln. Common practice: half a percent and more. */
const DAY_TO_DAY = 0.007
/** Misses smaller than this are nobody's concern, ln. */
const WORTH_TELLING = 0.01
/** Chance below which a larger scatter is no chance, and how much larger it must be to matter. */
const CHANCE = 0.01
const MUCH = 1.15

/**
 * Compares two fields, before and after a change of fuel: did the mixture move as the change explains?
 *
 * @param moved fuel tables as they were for the one and for the other
 * @param coolant mean of each side, °C; null where nothing tells
 */
export function answered(
  before: { field: Field; steady: Steadiness | null; coolant: number | null },
  after: { field: Field; steady: Steadiness | null; coolant: number | null },
  moved: readonly TableSince[],
): FuelAnswered {
  const cells = cellsOf(before.field, after.field, moved)
  const partLoad = answerOf(cells.filter((one) => one.load < HIGH_LOAD))
  const fullLoad = answerOf(cells.filter((one) => one.load >= HIGH_LOAD))
  const all = answerOf(cells)
  return {
    verdict: verdictOf(all, partLoad, fullLoad),
    all,
    partLoad,
    fullLoad,
    warmerC: before.coolant === null || after.coolant === null ? null : after.coolant - before.coolant,
    steadiness: before.steady && after.steady && steadier(before.steady, after.steady),
  }
}

/** A cell read before and after: what was put in and what came of it, ln, with the half width of the latter. */
interface Cell {
  row: number
  load: number
  expected: number
  answer: number
  half: number
}

function cellsOf(before: Field, after: Field, moved: readonly TableSince[]): Cell[] {
  const { rpm, load, loadAxis } = after.grid
  return after.cylinders.flatMap((now) => {
    const then = before.cylinders.find((one) => one.cylinder === now.cylinder)
    if (!then) return []
    return load.flatMap((at, row) =>
      rpm.flatMap((speed, column): Cell[] => {
        const expected = Math.log(fuelSince(moved, now.cylinder, loadAxis, speed, at))
        const [a, b] = [readAt(before, then, row, column), readAt(after, now, row, column)]
        if (!a || !b || Math.abs(expected) < LEAST_MOVED) return []
        return [{ row, load: at, expected, answer: a.level - b.level, half: Math.hypot(a.half, b.half) }]
      }),
    )
  })
}

type Cylinder = Field['cylinders'][number]

/** What was read at a cell; null where it was not read itself, a loop holds it, or the engine misfires. */
function readAt(field: Field, one: Cylinder, row: number, column: number): ReturnType<typeof levelAt> {
  if (one.evidence[row]![column] === 'bridged') return null
  return isMisfire(field.misfires, field.grid, one.cylinder, row, column) ? null : levelAt(one, row, column)
}

/** Means over cells, each by how well it is known; cells of a row share their runs, so that rows count, not cells. */
function answerOf(cells: readonly Cell[]): Answer | null {
  if (cells.length === 0) return null
  let [weight, expected, answer] = [0, 0, 0]
  for (const one of cells) {
    const share = 1 / (one.half ** 2 + WORTH_TELLING ** 2)
    weight += share
    expected += share * one.expected
    answer += share * one.answer
  }
  const rows = new Set(cells.map((one) => one.row)).size
  const usual = Math.sqrt(cells.reduce((sum, one) => sum + one.half ** 2, 0) / cells.length)
  const half = Math.hypot(usual / Math.sqrt(rows), DAY_TO_DAY)
  const pct = (ln: number): number => percentFromFactor(Math.exp(ln))
  return {
    expectedPct: pct(expected / weight),
    answeredPct: pct(answer / weight),
    lowPct: pct(answer / weight - half),
    highPct: pct(answer / weight + half),
    cells: cells.length,
  }
}

/** How an answer lies to what was put in: 1 more of it, -1 less, 0 as it should within the interval. */
function lies({ expectedPct, lowPct, highPct, answeredPct }: Answer): -1 | 0 | 1 {
  const isNear = Math.abs(answeredPct - expectedPct) < 100 * WORTH_TELLING
  if (isNear || (expectedPct >= lowPct && expectedPct <= highPct)) return 0
  return answeredPct > expectedPct === expectedPct > 0 ? 1 : -1
}

function verdictOf(all: Answer | null, part: Answer | null, full: Answer | null): FuelAnswered['verdict'] {
  if (!all) return 'untold'
  if (part && full && lies(full) === -1 && lies(part) >= 0) return 'less under load'
  const how = lies(all)
  return how === 0 ? 'as explained' : how > 0 ? 'more' : 'less'
}

function steadier(before: Steadiness, after: Steadiness): NonNullable<FuelAnswered['steadiness']> {
  const p = varianceRatio(after.pct ** 2, after.freedom, before.pct ** 2, before.freedom)
  return {
    beforePct: before.pct,
    afterPct: after.pct,
    p,
    isWorse: after.pct > MUCH * before.pct && p < CHANCE,
  }
}
