import type { OpeningReading } from '../model/calibrate'
import { targetAt, type CircuitTarget } from '../model/targets'

/** How far the mixture may be moved at an opening, ln of fuel: leaner (least, not above nought) and richer (most). */
export interface AllowedMove {
  least: number
  most: number
}

/** Within this much, ln, a reading is on target. */
const ON_TARGET = 0.02
/** Past its target, ln, an opening may be moved leaner, and richer: rich is the safe side, and counted against it by the search. */
const PAST = { leaner: 0.02, richer: 0.3 }
/** Against what a reading wants nothing is moved, but for what no gauge tells. */
const NOTHING = 0.01
/** Where nothing is read, ln: no leaner, and richer by this at the most. */
const UNREAD = 0.1
/** Share of the throttle beyond the last reading that it still speaks for: little at small openings, 15 % wide open. */
const reachAt = (opening: number): number => 0.03 + 0.12 * opening
/** Share of the throttle between two readings from which neither speaks for it. */
const BRIDGED = 0.15
/** Share of the throttle about a missed reading that is left alone. */
const MISSED = 0.03

/** Fuel (ln) that readings want at an opening, straight between them; null beyond their reach. */
function wantedAt(
  readings: readonly OpeningReading[],
  targets: readonly CircuitTarget[],
  opening: number,
): number | null {
  const sorted = [...readings].sort((a, b) => a.opening - b.opening)
  const wants = ({ opening: at, lambda }: OpeningReading): number => Math.log(lambda / targetAt(targets, at).lambda)
  const above = sorted.findIndex((one) => one.opening >= opening - 1e-9)
  const [low, high] = [sorted[(above < 0 ? sorted.length : above) - 1], sorted[above]]
  if (low && high) {
    if (Math.min(opening - low.opening, high.opening - opening) > BRIDGED) return null
    const share = (opening - low.opening) / (high.opening - low.opening)
    return (1 - share) * wants(low) + share * wants(high)
  }
  const only = low ?? high
  return only && Math.abs(only.opening - opening) <= reachAt(opening) ? wants(only) : null
}

/**
 * How far a change of parts may move the mixture at some openings: leaner no further than the readings about them want, and where
 * nothing was read not at all; richer freely, for that is the safe side and the search counts it.
 *
 * @param readings with what is fitted now
 * @param missed openings at which the model does not meet its readings: what bears there is left alone
 */
export function allowedMoves(
  readings: readonly OpeningReading[],
  targets: readonly CircuitTarget[],
  openings: readonly number[],
  missed: readonly number[] = [],
): AllowedMove[] {
  return openings.map((opening) => {
    if (missed.some((one) => Math.abs(one - opening) <= MISSED)) return { least: -NOTHING, most: NOTHING }
    const wants = wantedAt(readings, targets, opening)
    if (wants === null) return { least: -NOTHING, most: UNREAD }
    if (wants > ON_TARGET) return { least: -NOTHING, most: wants + PAST.richer }
    if (wants < -ON_TARGET) return { least: wants - PAST.leaner, most: PAST.richer }
    return { least: Math.min(0, wants) - PAST.leaner, most: Math.max(0, wants) + PAST.richer }
  })
}
