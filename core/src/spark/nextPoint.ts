import { NINETY } from '../numbers/ninety'
import { smoothSurface, type Place2 } from '../numbers/smoothSurface'
import type { SparkPlanChoice } from './choice'
import type { JudgedBin } from './judge'
import { FORM, LEVEL, REACH, spreadOf, surfacePoints, toldBests } from './bestSurface'

/** Where to step the advance next, and what it tells. */
export interface NextPoint {
  /** % of plate */
  stop: number
  rpm: number
  /** degrees by which best advance may be off there now (half of its 90 % interval), and at a typical place of the range */
  doubt: number
  typical: number
  /** the latter once this point is measured */
  after: number
  /** nothing is left to tell: best advance is known well enough everywhere */
  isEnough: boolean
}

/** Degrees of variance that three runs at a point leave. */
const MEASURED = 0.6 ** 2
/** Half width of an interval, degrees, from which torque does not care: 3° off best costs half a percent (as `advancePosterior` has it). */
const ENOUGH = 3
const MOST_STOP = 100
/** Points from which it is learnt how much places differ; degrees that are taken for it before. */
const TELLING = 4
const UNTOLD = 3

/** Places of the range that is planned: its stops and speeds, and half way between them. */
function placesOf({ stops, rpm }: Pick<SparkPlanChoice, 'stops' | 'rpm'>): Place2[] {
  const finer = (axis: readonly number[]): number[] => {
    const sorted = [...new Set(axis)].sort((a, b) => a - b)
    return sorted.flatMap((one, k) => (k === 0 ? [one] : [(one + sorted[k - 1]!) / 2, one]))
  }
  return finer(rpm).flatMap((speed) => finer(stops).map((stop) => [speed, Math.min(MOST_STOP, stop)] as const))
}

/**
 * The point that takes most doubt of best advance away over the planned range, as for the next run of the mixture: all points take
 * about as long. Null without any point, as then nothing is learnt of how much places differ: begin with the plan.
 *
 * @param bins points as judged
 * @param range stops and speeds that are planned
 * @example
 * const { stop, rpm, doubt } = nextSparkPoint(bins, { stops: [40, 100], rpm: [3000, 6000] })!
 */
export function nextSparkPoint(
  bins: readonly JudgedBin[],
  range: Pick<SparkPlanChoice, 'stops' | 'rpm'>,
): NextPoint | null {
  const points = toldBests(surfacePoints(bins))
  if (points.length === 0) return null
  const places = placesOf(range)
  // A few points cannot tell how much places differ.
  const least = points.length < TELLING ? UNTOLD : 0
  const prior = { reach: REACH, spread: Math.max(least, spreadOf(points)), level: LEVEL }
  const halvesOf = (some: typeof points): number[] => {
    const surface = smoothSurface(some, prior)
    return places.map((place) => NINETY * Math.sqrt(surface.at(place).variance))
  }
  const typicalOf = (halves: readonly number[]): number =>
    Math.sqrt(halves.reduce((sum, one) => sum + one * one, 0) / halves.length)
  const now = halvesOf(points)
  const best = places
    .map((at, k) => ({
      at,
      doubt: now[k]!,
      after: typicalOf(halvesOf([...points, { at, value: 0, variance: MEASURED + FORM ** 2 }])),
    }))
    .reduce((a, b) => (b.after < a.after ? b : a))
  return {
    stop: Math.round(best.at[1]),
    rpm: 50 * Math.round(best.at[0] / 50),
    doubt: best.doubt,
    typical: typicalOf(now),
    after: best.after,
    isEnough: Math.max(...now) <= ENOUGH,
  }
}
