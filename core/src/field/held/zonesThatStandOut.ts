import { addedSince, isCorrectedOtherwise } from './askedByLoop'
import type { FieldOptions } from '../field'
import { isSameZone, type HeldZone } from './heldZones'
import { markHeld } from './markHeld'
import type { LagEstimate } from '../lag/lag'
import { valueAt } from '../readings/placement'
import { keepSamples, type Samples } from '../readings/samples'
import { solveCylinder, withDoubt, type Known } from '../solve/solveCylinder'
import { NINETY } from '../../numbers/ninety'

/** A zone stands out when its readings lie further than this from what the open field about it foretells (ln lambda), or than its interval. */
const LEAST_APART = 0.006
/**
 * So does one of which a part lies further from it than both, in deviations: a field that would cross lambda 1 under the
 * loop, and come back, lies on it in the mean.
 */
const PARTS = 4
const CLEAR = 2.576

/**
 * Zones whose readings are not what the open readings about them foretell, besides those known before. A mixture that
 * merely passes lambda 1 fits in with what lies about it, and there is nothing that a loop could hide. Nor is one a zone that
 * earlier passes corrected as no loop could have asked: lambda 1 was the target there, and is reached.
 *
 * @param zones as found by their own rows alone
 */
export function zonesThatStandOut(
  options: FieldOptions,
  all: Samples,
  zones: readonly HeldZone[],
  lag: LagEstimate,
): HeldZone[] {
  const { grid, knownZones } = options
  const isKnown = (zone: HeldZone): boolean => knownZones.some((one) => isSameZone(one, zone))
  // Trims tell of a loop by themselves.
  if (all.trim || zones.every(isKnown)) return [...zones]
  const added = all.lambda.flatMap((_, c) => addedSince(options, c + 1) ?? [])
  const isOtherwise = (zone: HeldZone): boolean =>
    added.length > 0 && added.every((one) => isCorrectedOtherwise(one, grid, options.target, zone))
  const likely = zones.filter((zone) => isKnown(zone) || !isOtherwise(zone))
  const { held, edge } = markHeld(grid, all, likely)
  const open = keepSamples(
    all,
    held.map((h, i) => (h || edge[i] ? 0 : 1)),
  )
  const fields = all.lambda.map((_, c) => withDoubt(options, c + 1, lag, solveCylinder(options, c, open)))
  return likely.filter((zone) => isKnown(zone) || fields.some((field, c) => standsOut(options, all, zone, field, c)))
}

function standsOut(
  options: FieldOptions,
  all: Samples,
  zone: HeldZone,
  field: Known | null,
  cylinder: number,
): boolean {
  if (!field) return true
  const { held } = markHeld(options.grid, all, [zone])
  const inside = solveCylinder(options, cylinder, keepSamples(all, held))
  if (!inside) return false
  const { need, placement } = inside
  const { x, deviation } = field.posterior
  const parts = Array.from({ length: PARTS }, () => ({ apart: 0, doubt: 0, count: 0 }))
  for (let i = 0; i < placement.count; i++) {
    const share = (inside.samples.rpm[i]! - zone.fromRpm) / (zone.toRpm - zone.fromRpm)
    const part = parts[Math.min(PARTS - 1, Math.max(0, Math.floor(PARTS * share)))]!
    part.apart += need[i]! - valueAt(placement, x, i)
    part.doubt += valueAt(placement, deviation, i)
    part.count++
  }
  const [apart, doubt] = [
    Math.abs(parts.reduce((sum, one) => sum + one.apart, 0)) / placement.count,
    parts.reduce((sum, one) => sum + one.doubt, 0) / placement.count,
  ]
  return (
    apart > LEAST_APART ||
    apart > NINETY * doubt ||
    parts.some((one) => Math.abs(one.apart) > Math.max(LEAST_APART * one.count, CLEAR * one.doubt))
  )
}
