import { backward } from '../../numbers/banded'
import { seededRandom } from '../../numbers/random'
import type { Fitted } from '../carburettor'
import { expectedLog, gradientOf, type Calibration } from './calibrate'
import { MODEL_ERROR } from './predict'

/** Carburettors that fit what was read, drawn from what is known: departures of all parameters, and one more of the model itself. */
export interface Draws {
  departures: readonly Float64Array[]
  /** ln that the model gets wrong from one fitting to another, by draw */
  own: Float64Array
}

const SEED = 1

/**
 * Draws carburettors that the readings leave possible: normal about the calibration, with its covariance. The same each time.
 *
 * @param count how many
 */
export function drawCarburettors({ factor, doubt }: Calibration, count: number): Draws {
  const random = seededRandom(SEED)
  // Of a precision L L' what L' gives back of independent normal numbers has its inverse as covariance.
  const departures = Array.from({ length: count }, () =>
    backward(
      factor,
      Float64Array.from({ length: factor.size }, () => random.normal()),
    ),
  )
  // Checks left open bear on the level that is read; of one fitting against another a part is left.
  const spread = Math.hypot(MODEL_ERROR, doubt / 3)
  return { departures, own: Float64Array.from({ length: count }, () => spread * random.normal()) }
}

/**
 * ln lambda of something fitted by draw and opening.
 *
 * @param isOther whether it is another fitting than the one that is read, of which the model may be wrong
 */
export function drawnLambdas(
  calibration: Calibration,
  { departures, own }: Draws,
  fitted: Fitted,
  openings: readonly number[],
  isOther: boolean,
): Float64Array[] {
  const rows = openings.map((opening) => ({
    log: -expectedLog(calibration, fitted, opening),
    by: [...gradientOf(calibration, fitted, opening).entries()].filter(([, value]) => value !== 0),
  }))
  return departures.map((departure, k) =>
    Float64Array.from(rows, ({ log, by }) =>
      by.reduce((sum, [i, value]) => sum - value * departure[i]!, log + (isOther ? own[k]! : 0)),
    ),
  )
}
