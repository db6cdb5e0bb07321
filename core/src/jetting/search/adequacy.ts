import { median } from '../../numbers/median'
import { NINETY } from '../../numbers/ninety'
import { restAt, type Calibration, type MeasuredFitting, type OpeningReading } from '../model/calibrate'
import { predictJetting } from '../model/predict'

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
/** ln by which what the model leaves over may jut out between two neighbours: no law of a carburettor is as rough. */
const ROUGH = 0.1

/**
 * Readings that the calibrated model misses by more than 4 %, or by more than three times their error: what it makes of other
 * parts is then worth nothing; and those that jut out between their neighbours. The worst first.
 */
export function missedReadings(calibration: Calibration, measured: readonly MeasuredFitting[]): Miss[] {
  const rough = roughPlaces(calibration, measured)
  return measured
    .flatMap(({ fitted, readings }): Miss[] => {
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
    .filter(({ opening }) => !rough.some((one) => Math.abs(one.opening - opening) < 0.005))
    .concat(rough)
    .sort((a, b) => Math.abs(b.pct) - Math.abs(a.pct))
}

/** Half of a reading's 90 % interval, share, from which it tells too little to fit parts by. */
const VAGUE = 0.035

/**
 * Half of the 90 % interval of a typical reading, %, where the readings scatter so much that no parts can be told by them; null where
 * they do not.
 */
export function scatterOf(readings: readonly OpeningReading[]): number | null {
  if (readings.length === 0) return null
  const half = NINETY * median(readings.map((one) => one.error))
  return half > VAGUE ? 100 * half : null
}

/** Openings at which a reading juts out between its neighbours, and what the model leaves over with it: no law is as rough. */
function roughPlaces(calibration: Calibration, measured: readonly MeasuredFitting[]): Miss[] {
  // Where rods rise the mixture steps, and where exactly is not known before it is read.
  if (calibration.body.kind === 'metering rods') return []
  return measured.flatMap(({ readings }) => {
    const sorted = [...readings].sort((a, b) => a.opening - b.opening)
    return sorted.slice(1, -1).flatMap(({ opening, lambda }, k): Miss[] => {
      const [low, high] = [sorted[k]!, sorted[k + 2]!]
      const share = (opening - low.opening) / (high.opening - low.opening)
      const jut = (at: number, before: number, after: number): number => at - before - (after - before) * share
      const read = jut(Math.log(lambda), Math.log(low.lambda), Math.log(high.lambda))
      const left = jut(
        restAt(calibration, opening),
        restAt(calibration, low.opening),
        restAt(calibration, high.opening),
      )
      // What is left over is of fuel: it juts the other way.
      return Math.abs(read) > ROUGH && Math.abs(left) > ROUGH && read * left < 0
        ? [{ opening, pct: 100 * (Math.exp(read) - 1) }]
        : []
    })
  })
}
