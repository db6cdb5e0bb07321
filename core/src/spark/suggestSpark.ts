import { NINETY } from '../numbers/ninety'
import { convexHull, isInside, type Point2 } from '../numbers/hull'
import type { Place2 } from '../numbers/smoothSurface'
import { locate } from '../table/lookup'
import { setsSpark } from '../table/kinds'
import { build, valueLimits, type Table } from '../table/table'
import type { Between } from './advanceCurve'
import { bestSurface, surfacePoints, type SurfaceCell } from './bestSurface'
import { DEFAULT_SPARK } from './fitAdvance'
import type { JudgedBin } from './judge'
import { knockSurface } from './knockSurface'
import {
  DEFAULT_SPARK_LIMITS,
  type SparkArithmetic,
  type SparkLimits,
  type SparkNode,
  type SparkReason,
  type SuggestedSpark,
} from './sparkChange'
import { nearOf, placeIn } from './nearPoints'
import { tapered, withoutTeeth } from './withoutTeeth'

/** Share of what varies from place to place that points may leave unknown: full weight up to the first, none from the second. */
const KNOWN = { whole: 0.35, none: 0.7 }
/** Share of a cell beyond a point that it still speaks for. */
const BESIDE = 0.7
/** Gain in its own spreads from which a change is made at all, and whole. */
const SURE = { none: 0.4, whole: NINETY }

/** Points of a table: what they tell, and what was tried at them. */
interface TablePoint {
  one: JudgedBin
  at: Place2
  /** degrees from what is there now: the highest that was tried and did not knock, and the lowest that was tried */
  highest: number
  lowest: number
}

/**
 * Suggested change of a spark table, base or trim, by cell, from one surface of best advance over speed and load through the points
 * (`bestSurface`): as far as torque is to be gained beyond doubt, under the surface of the knock line everywhere, never beyond what
 * was tried about there, tapering off beyond the points.
 *
 * @param bins points as judged; those that are stale hold their cells where they are
 * @param knockMargin degrees kept from where knock may begin
 * @param giveAway torque that may be given away for less advance, share of the best
 * @throws RangeError when the table does not set spark
 * @example
 * const { nodes } = suggestSpark(table, bins)
 */
export function suggestSpark(
  table: Table,
  bins: readonly JudgedBin[],
  limits: SparkLimits = DEFAULT_SPARK_LIMITS,
  knockMargin = DEFAULT_SPARK.knockMargin,
  giveAway = DEFAULT_SPARK.giveAway,
): SuggestedSpark {
  if (!setsSpark(table)) throw new RangeError(`A ${table.kind} table does not set spark.`)
  const points = bins.flatMap((one): TablePoint[] => {
    const at = one.bin.isStatic ? null : placeIn(table, one)
    if (!at) return []
    const offsetOf = (point: { advance: number }): number => point.advance - one.bin.present - one.moved
    const lowest = Math.min(...one.bin.points.map(offsetOf))
    const highest = Math.max(lowest, ...one.bin.points.filter((point) => !point.knock).map(offsetOf))
    return [{ one, at, highest, lowest }]
  })
  const telling = points.filter(({ one }) => !one.stale && one.fit.curve)
  const surface = telling.length ? bestSurface(surfacePoints(bins, (one) => placeIn(table, one))) : null
  const knockAt = knockSurface(
    points.flatMap(({ one, at }) => [
      ...one.bin.points.map((point) => ({
        at,
        offset: point.advance - one.bin.present - one.moved,
        knock: point.knock,
      })),
      ...(one.bin.knockFrom === null
        ? []
        : [{ at, offset: one.bin.knockFrom - one.bin.present - one.moved, knock: true }]),
    ]),
  )
  const among = hullOf(
    table,
    points.filter(({ one }) => !one.stale),
  )
  const cells = build(table, (row, column): SparkNode => {
    const place: Place2 = [table.rpm[column]!, table.load[row]!]
    return cellOf(table, row, column, {
      near: nearOf(table, bins, row, column).map(({ one }) => one),
      cell: surface && isInside(among, place) ? surface(place) : null,
      knock: knockAt?.(place) ?? null,
      tried: triedAbout(telling, place),
      limits,
      knockMargin,
      giveAway,
    })
  })
  const nodes = tapered(table, withoutTeeth(table, cells), (row, column) => {
    const knock = knockAt?.([table.rpm[column]!, table.load[row]!])
    return knock ? knock.earliest - knockMargin : Infinity
  })
  return { nodes, values: build(table, (row, column) => nodes[row]![column]!.after) }
}

/** What bears on one cell. */
interface CellGround {
  near: readonly JudgedBin[]
  cell: SurfaceCell | null
  knock: { mean: number; earliest: number } | null
  tried: { lowest: number; highest: number; isBlind: boolean; sawKnock: boolean }
  limits: SparkLimits
  knockMargin: number
  giveAway: number
}

function cellOf(table: Table, row: number, column: number, ground: CellGround): SparkNode {
  const { near, cell, knock, tried, limits, knockMargin, giveAway } = ground
  const before = table.values[row]![column]!
  const points = near.map((one) => one.key)
  const known = cell ? share(KNOWN.none, KNOWN.whole, cell.best.unknown) : 0
  const about = (of: SurfaceCell['best']): Between => {
    const half = NINETY * Math.sqrt(of.variance)
    return { value: before + of.mean, low: before + of.mean - half, high: before + of.mean + half }
  }
  const best = cell && known > 0 ? about(cell.best) : null
  const knockFrom = knock && known > 0 ? before + knock.earliest : null
  const stay = (reason: SparkReason, arithmetic: SparkArithmetic[] = [], gain: Between | null = null): SparkNode => ({
    changeDeg: 0,
    reason,
    before,
    after: before,
    points,
    best,
    gainPct: gain,
    knockFrom,
    arithmetic: [...arithmetic, { what: 'stay', values: {}, result: before }],
  })
  if (near.length > 0 && near.every((one) => one.stale)) return stay('stale, mixture moved')
  if (!cell || known === 0) return stay(near.length > 0 ? 'no advice there' : 'no evidence')

  const { mean, variance } = cell.best
  // Least advance that gives away no more than allowed; from above the best that is less advance as well.
  const wanted = mean - Math.sqrt(giveAway / cell.later)
  const arithmetic: SparkArithmetic[] = [
    {
      what: 'surface',
      values: { best: best!.value, low: best!.low, high: best!.high, advised: before + wanted },
      result: wanted,
    },
  ]
  const gainTo = (change: number): { value: number; spread: number } => {
    const bend = mean > 0 ? cell.later : cell.earlier
    // bend (best² - (change - best)²): straight in the best, whose doubt it has.
    return {
      value: 100 * bend * (2 * change * mean - change * change),
      spread: 100 * bend * 2 * Math.abs(change) * Math.sqrt(variance),
    }
  }
  const clear = knock ? knock.earliest - knockMargin : Infinity
  // Within what was tried: nothing was run beyond it.
  const end = Math.max(tried.lowest, Math.min(wanted, tried.highest))
  const gain = gainTo(end)
  const sure = gain.value > 0 ? share(SURE.none, SURE.whole, gain.value / Math.max(1e-9, gain.spread)) : 0
  let change = end * sure * known
  if (sure < 1 || known < 1) arithmetic.push({ what: 'doubt', values: { sure, known }, result: change })
  const most = Math.min(
    limits.more,
    tried.sawKnock ? limits.moreAfterKnock : Infinity,
    tried.isBlind ? limits.moreUnseen : Infinity,
  )
  let reason: SparkReason =
    near.length > 0 ? (sure > 0 ? 'as measured' : 'nothing to gain') : sure > 0 ? 'between points' : 'nothing to gain'
  const limited = (to: number, why: SparkReason): void => {
    arithmetic.push({ what: 'limit', values: { change, limit: to }, result: to })
    ;[change, reason] = [to, why]
  }
  // Forward never past where knock may begin; back where it is to be expected, not wherever nobody tried.
  if (knock && change > clear) {
    const back = Math.max(-limits.less, Math.min(0, knock.mean - knockMargin))
    limited((clear >= 0 ? clear : back) * known, 'limited, knock was seen')
  }
  if (change > most)
    limited(
      most,
      most === limits.more
        ? 'limited, more advance'
        : tried.sawKnock && most === limits.moreAfterKnock
          ? 'limited, knock was seen'
          : 'limited, no knock channel',
    )
  if (change < -limits.less) limited(-limits.less, 'limited, less advance')
  const told = gainTo(change)
  const gainPct: Between = {
    value: told.value,
    low: told.value - NINETY * told.spread,
    high: told.value + NINETY * told.spread,
  }
  if (reason === 'nothing to gain') return stay(reason, arithmetic, gainPct)
  if (Math.abs(change) < limits.least) return stay('too small to matter', arithmetic, gainPct)
  const { least, most: highest } = valueLimits(table.kind)
  const wantedValue = Math.round(10 * (before + change)) / 10
  const after = Math.min(highest, Math.max(least, wantedValue))
  if (after !== wantedValue) reason = 'limited by the table'
  arithmetic.push({ what: 'apply', values: { before, change }, result: after })
  return { changeDeg: after - before, reason, before, after, points, best, gainPct, knockFrom, arithmetic }
}

/** What lies among the points: their hull, each with what it speaks for beside it. Beyond it nothing is told, however smooth it goes on. */
function hullOf({ rpm, load }: Table, points: readonly TablePoint[]): Point2[] {
  const widthAt = (axis: readonly number[], value: number): number => {
    const [below] = locate(axis, value)
    const next = Math.min(axis.length - 1, below + 1)
    return BESIDE * Math.max(1e-9, axis[next]! - axis[next - 1 < 0 ? 0 : next - 1]!)
  }
  return convexHull(
    points.flatMap(({ at: [x, y] }) => {
      const [dx, dy] = [widthAt(rpm, x), widthAt(load, y)]
      return [
        [x - dx, y],
        [x + dx, y],
        [x, y - dy],
        [x, y + dy],
      ] as Point2[]
    }),
  )
}

/** How far one is on the way from nothing to all, 0 to 1. */
const share = (none: number, whole: number, value: number): number =>
  Math.min(1, Math.max(0, (value - none) / (whole - none)))

/** What was tried about a place: the narrowest of the points that lie nearest to it on either side. */
function triedAbout(points: readonly TablePoint[], place: Place2): CellGround['tried'] {
  const far = ({ at }: TablePoint): number => Math.hypot((at[0] - place[0]) / 2000, (at[1] - place[1]) / 30)
  const nearest = [...points].sort((a, b) => far(a) - far(b))
  const about = nearest.filter((one) => far(one) <= 1.5 * far(nearest[0]!) + 0.2)
  return {
    lowest: Math.max(-Infinity, ...about.map((one) => one.lowest)),
    highest: Math.min(Infinity, ...about.map((one) => one.highest)),
    isBlind: about.some(({ one }) => !one.bin.hasKnockChannel),
    sawKnock: about.some(({ one }) => one.fit.knock !== null),
  }
}
