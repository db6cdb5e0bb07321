import type { Fitted } from '../carburettor'
import { type Calibration } from '../model/calibrate'
import { isRead } from '../model/predict'
import { drawCarburettors, drawnLambdas } from '../model/draws'
import { JUDGED_OPENINGS } from '../model/judgedOpenings'
import { LEAN_COUNTS } from './answers'

/** How much less a combination is off than what is fitted now, RMS of ln, with its 90 % interval. */
export interface Gain {
  value: number
  low: number
  high: number
}

/** A combination has to be better by this much, RMS, to be worth the work; less cannot be told. */
export const WORTH = 0.003
/** And by this much for each minute that it takes: an hour's work is not done for half a percent (judgement). */
const WORTH_PER_MINUTE = 0.0001
const DRAWS = 200
/** ln by which an opening may go past its target, or past where it stands now, and in how many of the draws it may go further. */
export const MAY_LEAN = 0.04
const MAY_FAIL = 0.15

/** Whether it gains beyond its doubt, and enough for the minutes that it takes. */
export const isWorth = ({ value, low }: Gain, minutes: number): boolean =>
  low > 0 && value >= WORTH + WORTH_PER_MINUTE * minutes

/**
 * What a combination is worth by all carburettors that the readings leave possible.
 *
 * @param wanted ln of fuel over air at the judged openings, and weights
 * @returns of a combination: departure from target (RMS of ln), gain over what is fitted now, and whether it leans nothing
 */
export function judgeWorth(
  calibration: Calibration,
  fitted: Fitted,
  wanted: { log: Float64Array; weight: Float64Array },
): (next: Fitted) => { off: number; gain: Gain; isSafe: boolean } {
  // Every other one tells as much: what is predicted is smooth.
  const at = JUDGED_OPENINGS.flatMap((opening, j) =>
    j % 2 === 0 && isRead(calibration, opening)
      ? [{ opening, target: -wanted.log[j]!, weight: wanted.weight[j]! }]
      : [],
  )
  const openings = at.map((one) => one.opening)
  const total = at.reduce((sum, one) => sum + one.weight, 0)
  const draws = drawCarburettors(calibration, DRAWS)
  const offOf = (lambdas: Float64Array): number => {
    let sum = 0
    at.forEach(({ target, weight }, j) => {
      const off = lambdas[j]! - target
      sum += weight * off * off * (off > 0 ? LEAN_COUNTS : 1)
    })
    return Math.sqrt(sum / total)
  }
  const present = drawnLambdas(calibration, draws, fitted, openings, false)
  const offNow = present.map(offOf)
  return (next) => {
    const after = drawnLambdas(calibration, draws, next, openings, true)
    const offs = after.map(offOf)
    const gains = Float64Array.from(offs, (off, k) => offNow[k]! - off).sort()
    const isSafe = at.every(({ target }, j) => {
      const leaned = after.filter(
        (lambdas, k) => lambdas[j]! - target > Math.max(0, present[k]![j]! - target) + MAY_LEAN,
      ).length
      return leaned <= MAY_FAIL * DRAWS
    })
    return {
      off: Math.sqrt(offs.reduce((sum, off) => sum + off * off, 0) / DRAWS),
      gain: {
        value: gains.reduce((sum, one) => sum + one, 0) / DRAWS,
        low: gains[Math.floor(0.05 * DRAWS)]!,
        high: gains[Math.ceil(0.95 * DRAWS) - 1]!,
      },
      isSafe,
    }
  }
}
