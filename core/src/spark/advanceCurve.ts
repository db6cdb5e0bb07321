/** A torque curve that readings leave possible: loses `later` or `earlier`, share of its best torque, for each degree squared from `best`. */
export interface CurveDraw {
  /** degrees before top dead centre */
  best: number
  /** below the best: the spark comes later */
  later: number
  /** above it */
  earlier: number
}

/** Torque over advance in one bin: what the readings leave possible, equally likely. */
export interface AdvanceCurve {
  /** best torque, N·m */
  level: number
  draws: CurveDraw[]
}

/** A figure with its 90 % interval. */
export interface Between {
  value: number
  low: number
  high: number
}

/** Share of best torque that is lost at an advance. */
export function lossOf({ best, later, earlier }: CurveDraw, advance: number): number {
  const off = advance - best
  return (off < 0 ? later : earlier) * off * off
}

/** Median and 90 % interval of figures that are equally likely. */
function spanOf(figures: readonly number[]): Between {
  const sorted = Float64Array.from(figures).sort()
  const at = (share: number): number => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]!
  return { value: at(0.5), low: at(0.05), high: at(0.95) }
}

/** Torque to expect at an advance, N·m. */
export function torqueAt({ level, draws }: AdvanceCurve, advance: number): number {
  return level * (1 - draws.reduce((sum, one) => sum + lossOf(one, advance), 0) / draws.length)
}

/**
 * Torque gained from one advance to another, N·m, with its 90 % interval.
 *
 * @example
 * gainBetween({ level: 40, draws: [{ best: 26, later: 5e-4, earlier: 5e-4 }] }, 22, 26).value // 0.32
 */
export function gainBetween({ level, draws }: AdvanceCurve, from: number, to: number): Between {
  return spanOf(draws.map((one) => level * (lossOf(one, from) - lossOf(one, to))))
}

/**
 * Least advance that gives away no more than a share of best torque, by what is to be expected of the curve.
 *
 * @param from, to degrees between which it is sought
 */
export function leastWithin(curve: AdvanceCurve, share: number, from: number, to: number): number {
  const steps = Math.max(1, Math.round((to - from) / 0.05))
  const torque = Array.from({ length: steps + 1 }, (_, k) => torqueAt(curve, from + ((to - from) * k) / steps))
  const best = torque.reduce((most, one, k) => (one > torque[most]! ? k : most), 0)
  const first = torque.findIndex((one, k) => k >= best || one >= torque[best]! * (1 - share))
  return from + ((to - from) * first) / steps
}

/** Chance with which the best must lie beyond what was tried, to send somebody on to the next setting. */
const BEYOND = 0.9
/** A best that may lie anywhere in twice the range that was tried is not seen. */
const UNSEEN = 2

/** Where the best lies against what was tried. */
export interface BestPlace {
  /** it lies above, or below, what was tried */
  isBeyond: boolean
  isBelow: boolean
  /** with its 90 % interval; null where it was not seen within what was tried */
  best: Between | null
}

/**
 * Where the best of a curve lies against what was tried: within it, beyond it, or anywhere.
 *
 * @param low, high degrees that were tried; @param step degrees from one setting to the next
 */
export function placeOfBest({ draws }: AdvanceCurve, low: number, high: number, step: number): BestPlace {
  const bests = draws.map((one) => one.best)
  const isMost = (isSo: (best: number) => boolean): boolean => bests.filter(isSo).length >= BEYOND * bests.length
  const [isBeyond, isBelow] = [isMost((one) => one > high), isMost((one) => one < low)]
  const span = spanOf(bests)
  const isSeen = !isBeyond && !isBelow && span.high - span.low < UNSEEN * (high - low + 2 * step)
  return { isBeyond, isBelow, best: isSeen ? span : null }
}
