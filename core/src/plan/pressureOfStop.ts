import { isOpen } from '../run/engineState'
import type { RunColumns } from '../run/run'

/** Pressures behind the plate between which a machine works, kPa, and the opening at 5,000 rpm that makes most of the way; where nothing is logged (common practice, a single). */
const USUAL = { low: 25, high: 97, opening: 16 }
/** Openings tried, %: a large plate on a small engine fills early, a restricted one late. */
const OPENINGS = Array.from({ length: 24 }, (_, k) => 3 * 1.14 ** k)
const MOST_READINGS = 2000

/**
 * Pressure behind the plate by speed and throttle stop, as these runs have it: their lowest and highest pressure, and the
 * one opening that lets a curve between them lie nearest their readings; the usual one where none logs both.
 *
 * @returns kPa at rpm and a stop in %
 */
export function pressureOfStop(
  runs: readonly Pick<RunColumns, 'rpm' | 'throttle' | 'manifold'>[],
): (rpm: number, stop: number) => number {
  const readings = runs.flatMap(({ rpm, throttle, manifold }) =>
    throttle && manifold
      ? Array.from(rpm, (speed, i) => ({ rpm: speed, stop: throttle[i]!, kPa: manifold[i]! })).filter(
          (one) => one.rpm > 0 && isOpen(one.stop) && one.kPa > 0,
        )
      : [],
  )
  const some = readings.filter((_, i) => i % Math.ceil(readings.length / MOST_READINGS) === 0)
  if (some.length === 0) return (rpm, stop) => curve(USUAL.low, USUAL.high, USUAL.opening, rpm, stop)
  const low = some.reduce((least, one) => Math.min(least, one.kPa), USUAL.low)
  const high = some.reduce((most, one) => Math.max(most, one.kPa), 0)
  const off = (opening: number): number =>
    some.reduce((sum, one) => sum + Math.abs(one.kPa - curve(low, high, opening, one.rpm, one.stop)), 0)
  const opening = OPENINGS.reduce((best, one) => (off(one) < off(best) ? one : best))
  return (rpm, stop) => curve(low, high, opening, rpm, stop)
}

/** A plate passes air as it opens; a fast engine asks for more of it. */
function curve(low: number, high: number, opening: number, rpm: number, stop: number): number {
  return low + (high - low) * (1 - Math.exp((-stop / opening) * (5000 / Math.max(1000, rpm))))
}
