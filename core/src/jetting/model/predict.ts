import { NINETY } from '../../numbers/ninety'
import type { Fitted } from '../carburettor'
import { expectedLog, gradientOf, type Calibration, type OpeningReading } from './calibrate'

/** Error between and beyond readings, ln, where the line through them is taken: the rest is smooth. */
const BETWEEN = 0.02
/** A predicted mixture with its 90 % interval. */
export interface Predicted {
  opening: number
  lambda: number
  low: number
  high: number
}

/** Share of the throttle beyond the readings that still counts as read. */
const READ_MARGIN = 0.009
/** What the model itself gets wrong between fittings, ln. */
export const MODEL_ERROR = 0.008

/** How far an opening is from being read: a bridge between two readings, the way from the last one beyond them. */
function unread(openings: readonly number[], opening: number): number {
  const next = openings.findIndex((node) => node >= opening)
  const below = openings[next < 0 ? openings.length - 1 : next - 1]
  const above = openings[next]
  if (below === undefined || above === undefined) return Math.abs(opening - (below ?? above!))
  return ((opening - below) * (above - opening)) / (above - below)
}

/** Openings within what was read, and a little beyond, where predictions can be judged. */
export function isRead({ openings }: Calibration, opening: number): boolean {
  return opening >= openings[0]! - READ_MARGIN && opening <= openings.at(-1)! + READ_MARGIN
}

/**
 * Mixture to expect with something fitted. Beyond the readings the interval widens.
 *
 * @param at openings of the throttle, 0 to 1
 * @returns for each opening lambda with its 90 % interval
 */
export function predictJetting(calibration: Calibration, fitted: Fitted, at: readonly number[]): Predicted[] {
  const { openings, covariance } = calibration
  return at.map((opening) => {
    const value = expectedLog(calibration, fitted, opening)
    const gradient = gradientOf(calibration, fitted, opening)
    let variance = MODEL_ERROR ** 2 + calibration.doubt ** 2
    gradient.forEach((a, i) => {
      if (a !== 0) gradient.forEach((b, j) => (variance += a * b * covariance[i]![j]!))
    })
    variance += BETWEEN ** 2 * (unread(openings, opening) / 0.1)
    const half = NINETY * Math.sqrt(variance)
    return { opening, lambda: Math.exp(-value), low: Math.exp(-value - half), high: Math.exp(-value + half) }
  })
}

/** Openings that are one, share of the whole way. */
const SAME_OPENING = 0.02

/**
 * How well a prediction came true, % RMS of lambda over the openings that were both predicted and read.
 *
 * @returns null when they have none in common
 */
export function cameTrue(predicted: readonly Predicted[], readings: readonly OpeningReading[]): number | null {
  const offs = readings.flatMap((reading) => {
    const distance = (one: Predicted): number => Math.abs(one.opening - reading.opening)
    const near = predicted.reduce<Predicted | null>(
      (best, one) => (best === null || distance(one) < distance(best) ? one : best),
      null,
    )
    return near && distance(near) < SAME_OPENING ? [Math.log(reading.lambda / near.lambda)] : []
  })
  return offs.length ? 100 * Math.sqrt(offs.reduce((sum, one) => sum + one * one, 0) / offs.length) : null
}
