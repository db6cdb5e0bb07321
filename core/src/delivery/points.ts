import { factorFromPercent } from '../fuel/mixture'
import { COUNTS, HIGH_LOAD, type Wanted } from './wanted'

/** Places at which a way is judged: the cells of a wanted change and places between them, with what is wanted there. */
export interface Points {
  /** speeds and loads that the places lie at, rising */
  rpm: Float64Array
  load: Float64Array
  /** by place: its index among the speeds and the loads */
  column: Int32Array
  row: Int32Array
  /** factor on the fuel that is wanted */
  factor: Float64Array
  /** share of all, one in sum */
  weight: Float64Array
  /** what a lean residual counts there */
  lean: Float64Array
}

/** A breakpoint or a place between two: between which, and how far. */
interface Along {
  at: number
  cell: number
  share: number
}

/** Breakpoints with places between them, evenly. */
function along(points: readonly number[], between: number): Along[] {
  const steps = between + 1
  const last = points.length - 1
  const inner = points.slice(0, -1).flatMap((from, cell) =>
    Array.from({ length: steps }, (_, k) => ({
      at: from + ((points[cell + 1]! - from) * k) / steps,
      cell,
      share: k / steps,
    })),
  )
  return [...inner, { at: points[last]!, cell: Math.max(0, last - 1), share: last > 0 ? 1 : 0 }]
}

/**
 * Places at which ways are judged: cells, and between two cells as many as asked along either axis. A place counts where all
 * cells that tell of it are known; its weight is straight between theirs, so that a cell counts the same however far its
 * neighbours stand.
 *
 * @param between places between two breakpoints; 3 makes sixteen of a cell
 * @throws RangeError when nothing is wanted anywhere
 */
export function pointsOf({ rpm, load, pct, weight }: Wanted, between = 3): Points {
  const [columns, rows] = [along(rpm, between), along(load, between)]
  const found: { row: number; column: number; factor: number; weight: number }[] = []
  rows.forEach((up, row) => {
    columns.forEach((across, column) => {
      let [sum, use] = [0, 0]
      for (const [r, upShare] of [
        [up.cell, 1 - up.share],
        [up.cell + 1, up.share],
      ] as const)
        for (const [c, acrossShare] of [
          [across.cell, 1 - across.share],
          [across.cell + 1, across.share],
        ] as const) {
          const share = upShare * acrossShare
          if (share === 0) continue
          // Null goes on as no number, and the place is left out.
          sum += share * (pct[r]![c] ?? NaN)
          use += share * weight[r]![c]!
        }
      if (Number.isFinite(sum) && use > 0) found.push({ row, column, factor: factorFromPercent(sum), weight: use })
    })
  })
  const all = found.reduce((sum, one) => sum + one.weight, 0)
  if (!(all > 0)) throw new RangeError('No change is wanted anywhere: nothing is known of any cell.')
  return {
    rpm: Float64Array.from(columns, ({ at }) => at),
    load: Float64Array.from(rows, ({ at }) => at),
    column: Int32Array.from(found, (one) => one.column),
    row: Int32Array.from(found, (one) => one.row),
    factor: Float64Array.from(found, (one) => one.factor),
    weight: Float64Array.from(found, (one) => one.weight / all),
    lean: Float64Array.from(found, (one) => (rows[one.row]!.at >= HIGH_LOAD ? COUNTS.leanUnderLoad : COUNTS.lean)),
  }
}

/** Places that a search looks at, at most: beyond them it takes fewer between the cells, and the result is judged at all. */
const MOST_SEARCHED = 6000

/** Places to search by: as `pointsOf`, with fewer between the cells where there are very many. */
export function searchPoints(wanted: Wanted, between = 3): Points {
  const count = (inner: number): number => wanted.rpm.length * wanted.load.length * (inner + 1) ** 2
  let inner = between
  while (inner > 0 && count(inner) > MOST_SEARCHED) inner--
  return pointsOf(wanted, inner)
}
