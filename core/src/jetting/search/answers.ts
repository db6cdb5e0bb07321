import type { Fitted } from '../carburettor'
import { NINETY } from '../../numbers/ninety'
import { type Calibration, type OpeningReading } from '../model/calibrate'
import { isRead, predictJetting, type Predicted } from '../model/predict'
import { JUDGED_OPENINGS } from '../model/judgedOpenings'
import { zoneDepartures } from '../openingReadings'
import { targetAt, type CircuitTarget } from '../model/targets'

/** Leaner than now by less than this is not leaner. */
const SAME = 1.005

/** Openings from which full throttle is judged. */
const FULL = 0.85

/** Over target at full throttle by which the upper end of the interval may stand: 12.4 may be 12.8 (common practice). */
const LEAN_LIMIT = 1.035

/** Leaner than target counts this many times as much as richer. */
export const LEAN_COUNTS = 2

/** What the model makes of what is fitted, as if it had been read. */
export function asPredicted(calibration: Calibration, fitted: Fitted): OpeningReading[] {
  const at = JUDGED_OPENINGS.filter((opening) => isRead(calibration, opening))
  return predictJetting(calibration, fitted, at).map(({ opening, lambda, low, high }) => ({
    opening,
    lambda,
    error: Math.log(high / low) / 2 / NINETY,
  }))
}

/** The range that reads worst, lean counting twice, and the fuel it wants there, ln; null where all are on target. */
export function worstRange(
  rows: readonly OpeningReading[],
  targets: readonly CircuitTarget[],
): { opening: number; wants: number } | null {
  const [worst] = zoneDepartures(rows, targets)
    .filter((one) => one.verdict === 'lean' || one.verdict === 'rich')
    .sort((a, b) => weighed(b.pct!) - weighed(a.pct!))
  return worst ? { opening: worst.opening!, wants: Math.log(1 + worst.pct! / 100) } : null
}

const weighed = (pct: number): number => (pct > 0 ? LEAN_COUNTS * pct : -pct)

/** Share of what a range wants that must be taken for it to be answered. */
const ANSWERED = 0.4

export function isAnswered(
  calibration: Calibration,
  before: Fitted,
  after: Fitted,
  { opening, wants }: { opening: number; wants: number },
): boolean {
  const [was, will] = [before, after].map((one) => predictJetting(calibration, one, [opening])[0]!.lambda)
  return Math.log(was! / will!) / wants >= ANSWERED
}

/** Whether full throttle would be leaner than now, and than the evidence supports. */
export function isLeanAtFull(
  calibration: Calibration,
  before: Fitted,
  predicted: readonly Predicted[],
  targets: readonly CircuitTarget[],
): boolean {
  const full = predicted.filter(({ opening }) => opening >= FULL)
  const present = predictJetting(
    calibration,
    before,
    full.map(({ opening }) => opening),
  )
  return full.some(
    ({ opening, lambda, high }, k) =>
      lambda > present[k]!.lambda * SAME && high > targetAt(targets, opening).lambda * LEAN_LIMIT,
  )
}
