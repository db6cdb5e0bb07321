import { factorFromPercent, percentFromFactor } from '../fuel/mixture'
import { interpolate } from '../table/lookup'
import type { Matrix } from '../table/table'
import { leastCost, type Least } from './leastCost'
import { onBreakpoints, type Places } from './onBreakpoints'
import type { Points } from './points'

/** A correction on breakpoints of its own, and what it costs. */
export interface FittedTable extends Places {
  /** % of fuel, `[load][rpm]` */
  values: Matrix
  /** mean square that is left */
  cost: number
}

/** Percents on some breakpoints, as factors in one row. */
const settingsOf = (places: Places, pctAt: (rpm: number, load: number) => number): Float64Array =>
  Float64Array.from(places.load.flatMap((load) => places.rpm.map((rpm) => factorFromPercent(pctAt(rpm, load)))))

/**
 * Values on given breakpoints that leave the least cost, between cells, too.
 *
 * @param from a correction to begin with; none changes nothing
 * @param gains share of the cost below which no further step is taken
 * @returns a cell that no point tells of goes on from those beside it
 * @example
 * const { values } = fitTable(pointsOf(wanted), { rpm: [2000, 6000, 10000], load: [5, 40, 100] })
 */
export function fitTable(points: Points, places: Places, from: FittedTable | null = null, gains?: number): FittedTable {
  const start = settingsOf(places, (rpm, load) => (from ? interpolate(gridOf(from), from.values, rpm, load) : 0))
  return toTable(places, leastCost(points, onBreakpoints(points, places), start, [], gains))
}

/** Factor that a correction on its own breakpoints gives. */
export const givenByTable =
  (table: Places & { values: Matrix }) =>
  (rpm: number, load: number): number =>
    factorFromPercent(interpolate(gridOf(table), table.values, rpm, load))

const gridOf = ({ rpm, load }: Places): { rpm: number[]; load: number[] } => ({ rpm: [...rpm], load: [...load] })

function toTable({ rpm, load }: Places, { settings, cost }: Least): FittedTable {
  const values = load.map((_, row) => rpm.map((__, column) => percentFromFactor(settings[row * rpm.length + column]!)))
  return { rpm, load, values, cost }
}
