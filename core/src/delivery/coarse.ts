import { choosePlaces, settle } from './choosePlaces'
import { fitTable, givenByTable, type FittedTable } from './fitTable'
import { givenAt, leftOf } from './left'
import { type Points, pointsOf, searchPoints } from './points'
import { AXES, rasterOver, type Axis, type AxisChoice } from './raster'
import type { PointsTold } from './ways'
import { knownSpan, withoutGaps, type Wanted } from './wanted'

/** A coarse table as it is asked for. */
export interface CoarseAsked {
  rpmPoints: number
  loadPoints: number
  rpmStep?: number | undefined
  loadStep?: number | undefined
  rpm?: readonly number[] | undefined
  load?: readonly number[] | undefined
}

/** Raster on which most controllers let places be moved, rpm and % (or kPa). Common practice. */
const USUAL_STEP: Readonly<Record<Axis, number>> = { rpm: 250, load: 1 }

/** How the places of each axis are chosen. */
export const axisChoices = (asked: CoarseAsked): Record<Axis, AxisChoice> => ({
  rpm: asked.rpm ? { given: asked.rpm } : { count: asked.rpmPoints, step: asked.rpmStep ?? USUAL_STEP.rpm },
  load: asked.load ? { given: asked.load } : { count: asked.loadPoints, step: asked.loadStep ?? USUAL_STEP.load },
})

/** A coarse table with its places chosen where they are free, and what hangs on them. */
export interface FittedCoarse {
  table: FittedTable
  points: PointsTold
}

/**
 * A table of few cells that leaves the least, between them, too: places and values chosen together.
 *
 * @param onProgress share that is done
 * @returns the same for the same input
 * @example
 * const { table } = fitCoarse(wanted, { rpmPoints: 6, loadPoints: 6 })
 */
export function fitCoarse(wanted: Wanted, asked: CoarseAsked, onProgress?: (share: number) => void): FittedCoarse {
  const choices = axisChoices(asked)
  const isFree = 'count' in choices.rpm || 'count' in choices.load
  const table = isFree
    ? choosePlaces(wanted, choices, (share) => onProgress?.(0.8 * share))
    : fitTable(pointsOf(withoutGaps(wanted)), { rpm: asked.rpm!, load: asked.load! })
  onProgress?.(0.8)
  return { table, points: pointsTold(wanted, choices, table) }
}

/** What one more point on either axis would leave, and what would be left without the one that does least. */
function pointsTold(wanted: Wanted, choices: Record<Axis, AxisChoice>, table: FittedTable): PointsTold {
  const filled = withoutGaps(wanted)
  const [rough, whole, known] = [searchPoints(filled, 1), searchPoints(filled), pointsOf(wanted)]
  const costPct = (found: FittedTable): number =>
    leftOf(known, givenAt(known, givenByTable(fitTable(whole, found, found)))).costPct
  const stepOf = (axis: Axis): number => {
    const choice = choices[axis]
    return 'step' in choice ? choice.step : USUAL_STEP[axis]
  }
  const more = AXES.flatMap((axis): PointsTold['more'] => {
    const free = rasterOver(knownSpan(wanted, axis), stepOf(axis)).filter((value) => !table[axis].includes(value))
    const tried = spreadOut(free).map((value) => withPoint(rough, table, axis, value))
    const [best] = tried.sort((a, b) => a.cost - b.cost)
    if (!best) return []
    const at = best[axis].find((value) => !table[axis].includes(value))!
    // Where it came in it cannot do harm; moved on, with all points in, it might.
    const left = Math.min(costPct(best), costPct(settledBeside(rough, choices, best, wanted)))
    return [{ axis, at, costPct: left }]
  })
  const fewer = AXES.flatMap((axis) =>
    table[axis].length <= 2
      ? []
      : table[axis].map((at) => ({
          axis,
          at,
          found: fitTable(rough, { ...table, [axis]: table[axis].filter((value) => value !== at) }, table, ROUGHLY),
        })),
  )
  const [least] = fewer.sort((a, b) => a.found.cost - b.found.cost)
  return { more, least: least ? { axis: least.axis, at: least.at, costPct: costPct(least.found) } : null }
}

const ROUGHLY = 1e-3
/** Places tried for one more point; those between are settled to. */
const TRIED = 16

const spreadOut = (values: readonly number[]): number[] =>
  values.length <= TRIED
    ? [...values]
    : Array.from({ length: TRIED }, (_, k) => values[Math.round((k * (values.length - 1)) / (TRIED - 1))]!)

function withPoint(points: Points, table: FittedTable, axis: Axis, value: number): FittedTable {
  const places = { ...table, [axis]: [...table[axis], value].sort((a, b) => a - b) }
  return fitTable(points, places, table, ROUGHLY)
}

/** Places moved on after one came in, where they are free. */
function settledBeside(
  points: Points,
  choices: Record<Axis, AxisChoice>,
  table: FittedTable,
  wanted: Wanted,
): FittedTable {
  const rasters = Object.fromEntries(
    AXES.map((axis) => {
      const choice = choices[axis]
      return [axis, 'step' in choice ? rasterOver(knownSpan(wanted, axis), choice.step) : null]
    }),
  ) as Record<Axis, readonly number[] | null>
  return settle(points, rasters, table, 4)
}
