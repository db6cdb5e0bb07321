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
/** ln by which what the model leaves over may jut out between two neighbours: no law of a carburettor is as rough. */
const ROUGH = 0.1

/**
 * Readings that the calibrated model misses by more than 4 %, or by more than three times their error: what it makes of other
 * parts is then worth nothing; and those that jut out between their neighbours. The worst first.
 */
export function missedReadings(calibration: Calibration, measured: readonly MeasuredFitting[]): Miss[] {
  const rough = roughPlaces(calibration)
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

/** Openings at which readings jut out between their neighbours as no smooth law does. */
function roughPlaces({ body, openings, rest }: Calibration): Miss[] {
  // Where rods rise the mixture steps, and where exactly is not known before it is read.
  if (body.kind === 'metering rods') return []
  return openings.slice(1, -1).flatMap((opening, k): Miss[] => {
    const [low, high] = [openings[k]!, openings[k + 2]!]
    const straight = rest[k]! + ((rest[k + 2]! - rest[k]!) * (opening - low)) / (high - low)
    const out = rest[k + 1]! - straight
    return Math.abs(out) > ROUGH ? [{ opening, pct: 100 * (Math.exp(-out) - 1) }] : []
  })
}
