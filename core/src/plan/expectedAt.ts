import { plain } from '../numbers/format'
import type { Point } from './rangePoints'

/** Error expected over points of the range, %: RMS, and worst. */
export interface Expected {
  typicalPct: number
  worstPct: number
}

/** Worst: what is left and this many deviations. */
const WORST_DEVIATIONS = 2.5

export const inWords = ({ typicalPct, worstPct }: Expected): string =>
  `typically ${plain(typicalPct, 1)} %, at worst ${plain(worstPct, 1)} %`

/** A field between its nodes. */
export function valueAt(field: Float64Array, { nodes, shares }: Point): number {
  let sum = 0
  for (let j = 0; j < nodes.length; j++) sum += shares[j]! * field[nodes[j]!]!
  return sum
}

/** What a point may come to: what is left there, and so many deviations. */
export const worstAt = (left: number, doubt: number): number => Math.abs(left) + WORST_DEVIATIONS * Math.sqrt(doubt)

/** Error expected where this is left and so much is doubted, and where the worst is. */
export function expectedAt(
  points: readonly Point[],
  left: Float64Array,
  doubts: readonly number[],
): Expected & { where: Point } {
  const lefts = points.map((point) => valueAt(left, point))
  const at = lefts.map((one, k) => worstAt(one, doubts[k]!))
  const square = lefts.reduce((sum, one, k) => sum + one * one + doubts[k]!, 0)
  const worst = Math.max(...at)
  return {
    typicalPct: 100 * Math.sqrt(square / points.length),
    worstPct: 100 * worst,
    where: points[at.indexOf(worst)]!,
  }
}
