import { smoothSurface, type Place2, type SurfaceValue } from '../numbers/smoothSurface'
import type { CurveDraw } from './advanceCurve'
import type { JudgedBin } from './judge'

/** What one point tells: its place (rpm, load), and curves over degrees from what is there now that are equally likely. */
export interface SurfacePoint {
  at: Place2
  draws: readonly CurveDraw[]
}

/** Torque over advance at a place between points. Degrees from what is there now. */
export interface SurfaceCell {
  best: SurfaceValue
  /** share of torque that a degree squared costs, below the best and above it */
  later: number
  earlier: number
}

/** A value told at a place, and its variance. */
export interface ToldValue {
  at: Place2
  value: number
  variance: number
}

/** Curves of judged points over degrees from what is there now, where they tell of single cells: not stale, no setting of the whole engine. */
export function surfacePoints(
  bins: readonly JudgedBin[],
  placeOf: (bin: JudgedBin) => Place2 | null = ({ bin }) => [bin.rpm, bin.stop ?? 100],
): SurfacePoint[] {
  return bins.flatMap((one) => {
    const at = placeOf(one)
    const { bin, fit, stale, moved } = one
    if (!at || bin.isStatic || stale || !fit.curve) return []
    return [{ at, draws: fit.curve.draws.map((draw) => ({ ...draw, best: draw.best - bin.present - moved })) }]
  })
}

/** What points tell of something of their curves: its mean over the draws, and its variance with what is added. */
function toldOf(points: readonly SurfacePoint[], of: (draw: CurveDraw) => number, more = 0): ToldValue[] {
  return points.map(({ at, draws }) => {
    const value = draws.reduce((sum, one) => sum + of(one), 0) / draws.length
    const variance = draws.reduce((sum, one) => sum + (of(one) - value) ** 2, 0) / draws.length + more
    return { at, value, variance: Math.max(1e-4, variance) }
  })
}

/** Best advance as points tell it, degrees from what is there now. */
export const toldBests = (points: readonly SurfacePoint[]): ToldValue[] => toldOf(points, (one) => one.best, FORM ** 2)

/** rpm and load over which best advance is alike (judgement: it follows speed and filling, which tuning bends over some 2,000 rpm). */
export const REACH: Place2 = [2500, 40]
/** Degrees by which a table's whole level may be off, and by which places may differ from it. */
export const LEVEL = 5
const SPREADS = [1, 1.5, 3, 5]
/** ln of the same of what a degree squared costs. */
const BEND = { level: 0.4, spread: 0.15, usual: Math.log(5e-4) }
/** What a curve of another form than the estimator's is off by, degrees. */
export const FORM = 1.2

/** How much best advance differs from place to place, degrees: the likeliest by what was read. */
export function spreadOf(bests: readonly ToldValue[]): number {
  const likely = SPREADS.map((spread) => ({
    spread,
    log: smoothSurface(bests, { reach: REACH, spread, level: LEVEL }).logLikelihood,
  }))
  return likely.reduce((a, b) => (b.log > a.log ? b : a)).spread
}

/**
 * Best advance, and what torque loses beside it, as smooth surfaces over speed and load through the points. How much best advance
 * differs from place to place is learnt from them.
 *
 * @param points one at the least
 * @example
 * bestSurface([{ at: [4000, 60], draws: fit.curve.draws }])([4500, 70]).best.mean
 */
export function bestSurface(points: readonly SurfacePoint[]): (place: Place2) => SurfaceCell {
  const bests = toldBests(points)
  const best = smoothSurface(bests, { reach: REACH, spread: spreadOf(bests), level: LEVEL })
  const bend = (of: (draw: CurveDraw) => number) =>
    smoothSurface(
      toldOf(points, (one) => Math.log(of(one)) - BEND.usual),
      { reach: REACH, ...BEND },
    )
  const [later, earlier] = [bend((one) => one.later), bend((one) => one.earlier)]
  return (place) => ({
    best: best.at(place),
    later: Math.exp(BEND.usual + later.at(place).mean),
    earlier: Math.exp(BEND.usual + earlier.at(place).mean),
  })
}
