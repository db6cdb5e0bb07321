import { leastSquaresParabola } from '../../numbers/parabola'

/** How idle is judged: speed by tachometer (and ear), vacuum by gauge, or the mixture by wideband. */
export const IDLE_WAYS = ['speed', 'vacuum', 'wideband'] as const
export type IdleWay = (typeof IDLE_WAYS)[number]

/** To which side of the peak the screw is set (both are common practice). */
export const IDLE_SIDES = ['richer', 'leaner'] as const
export type IdleSide = (typeof IDLE_SIDES)[number]

/** One reading: turns out from gently seated, and what was read (rpm, kPa of vacuum, or lambda). */
export interface IdleReading {
  turns: number
  value: number
}

/** Turns from the peak at which the screw is left (common practice). */
export const FROM_PEAK = 0.25
/** Two sides agree when neither has moved by more than this. */
const STILL = 0.125
const LEAST_READINGS = 4

/** Where the screw should stand, and how sure that is. */
export type IdleFit =
  | { turns: number; value: number; error: number; set: number; note: string }
  | { turns: null; note: string }

/**
 * The peak of speed or vacuum over the screw's turns, by a parabola through the readings, and the rule from it.
 *
 * @param richerIsOut whether the mixture gets richer as the screw is turned out (a fuel screw; an air screw is the other way)
 */
export function fitIdlePeak(readings: readonly IdleReading[], side: IdleSide, richerIsOut: boolean): IdleFit {
  const known = readings.filter(({ turns, value }) => Number.isFinite(turns) && Number.isFinite(value))
  if (new Set(known.map((one) => one.turns)).size < LEAST_READINGS)
    return { turns: null, note: `Read at ${LEAST_READINGS} settings at least, a quarter turn apart.` }
  const mid = known.reduce((sum, one) => sum + one.turns, 0) / known.length
  const {
    coefficients: [a, b, c],
    residual,
    inverse,
  } = leastSquaresParabola(known.map(({ turns, value }) => ({ x: turns - mid, y: value })))
  const [low, high] = [Math.min(...known.map((one) => one.turns)), Math.max(...known.map((one) => one.turns))]
  if (!(c < 0))
    return {
      turns: null,
      note: 'There is no peak in these readings: they do not fall on both sides. Go on until they do.',
    }
  const peak = -b / (2 * c)
  const turns = mid + peak
  if (turns <= low || turns >= high)
    return {
      turns: null,
      note: `The peak lies ${turns <= low ? 'below' : 'above'} what was tried. Go on turning ${turns <= low ? 'in' : 'out'}.`,
    }
  // Of the vertex -b / 2c by its slopes in b and c (delta method).
  const [db, dc] = [-1 / (2 * c), b / (2 * c * c)]
  const variance = residual * (db * db * inverse[1]![1]! + 2 * db * dc * inverse[1]![2]! + dc * dc * inverse[2]![2]!)
  const outward = (side === 'richer') === richerIsOut ? 1 : -1
  return {
    turns,
    value: a + b * peak + c * peak * peak,
    error: Math.sqrt(variance),
    set: Math.max(0, turns + outward * FROM_PEAK),
    note: `A quarter turn ${outward > 0 ? 'out' : 'in'} from the peak, ${side}.`,
  }
}

/**
 * Turns of the screw at which a wideband shows the target, by a straight line through its readings.
 *
 * @param target lambda
 */
export function fitIdleMixture(readings: readonly IdleReading[], target: number): IdleFit {
  const known = readings.filter(({ turns, value }) => Number.isFinite(turns) && value > 0)
  if (new Set(known.map((one) => one.turns)).size < 3) return { turns: null, note: 'Read at three settings at least.' }
  const n = known.length
  const mx = known.reduce((sum, one) => sum + one.turns, 0) / n
  const my = known.reduce((sum, one) => sum + one.value, 0) / n
  const sxx = known.reduce((sum, one) => sum + (one.turns - mx) ** 2, 0)
  const slope = known.reduce((sum, one) => sum + (one.turns - mx) * (one.value - my), 0) / sxx
  const residual =
    known.reduce((sum, one) => sum + (one.value - my - slope * (one.turns - mx)) ** 2, 0) / Math.max(1, n - 2)
  if (Math.abs(slope) < 2 * Math.sqrt(residual / sxx) || slope === 0)
    return {
      turns: null,
      note: 'The screw does not move the mixture beyond the spread. Look for a leak or a blocked passage.',
    }
  const turns = mx + (target - my) / slope
  const [low, high] = [Math.min(...known.map((one) => one.turns)), Math.max(...known.map((one) => one.turns))]
  if (turns < low - 0.5 || turns > high + 0.5)
    return { turns: null, note: 'The target lies far beyond what was tried. Another pilot jet may be needed.' }
  return {
    turns,
    value: target,
    error: Math.sqrt(residual / n) / Math.abs(slope),
    set: turns,
    note: 'Where the wideband shows the target.',
  }
}

/** Whether two sides are done: neither was moved in its last round. `rounds` holds the settings of each side, oldest first. */
export function sidesAgree(rounds: readonly (readonly number[])[]): boolean {
  return rounds.every((side) => side.length >= 2 && Math.abs(side.at(-1)! - side.at(-2)!) <= STILL)
}
