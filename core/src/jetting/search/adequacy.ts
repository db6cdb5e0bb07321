import { predictJetting, type Calibration, type MeasuredFitting } from '../model/calibrate'

/** A reading that the calibrated model does not meet. */
export interface Miss {
  /** share of full throttle */
  opening: number
  /** read over predicted lambda, % */
  pct: number
}

/** Furthest that a model may miss a reading, ln; and the same in the reading's own errors, above what a gauge repeats to. */
const MOST = 0.04
const ERRORS = 3
const LEAST = 0.02

/**
 * Readings that the calibrated model misses by more than 4 %, or by more than three times their error: what it makes of other
 * parts is then worth nothing. The worst first.
 */
export function missedReadings(calibration: Calibration, measured: readonly MeasuredFitting[]): Miss[] {
  return measured
    .flatMap(({ fitted, readings }) => {
      const predicted = predictJetting(
        calibration,
        fitted,
        readings.map((one) => one.opening),
      )
      return readings.flatMap(({ opening, lambda, error }, k): Miss[] => {
        const off = Math.log(lambda / predicted[k]!.lambda)
        const isMissed = Math.abs(off) > MOST || Math.abs(off) > Math.max(LEAST, ERRORS * error)
        return isMissed ? [{ opening, pct: 100 * (Math.exp(off) - 1) }] : []
      })
    })
    .sort((a, b) => Math.abs(b.pct) - Math.abs(a.pct))
}
