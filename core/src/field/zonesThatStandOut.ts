import type { FieldOptions } from './field'
import { markHeld, type HeldZone } from './heldZones'
import type { LagEstimate } from './lag'
import { valueAt } from './placement'
import { keepSamples, type Samples } from './samples'
import { solveCylinder, withDoubt, type Known } from './solveCylinder'

/** A zone stands out when its readings lie further than this from what the open field about it foretells (ln lambda), or than its interval. */
const LEAST_APART = 0.006
const INTERVAL = 1.645

/**
 * Zones whose readings are not what the open readings about them foretell, besides those known before. A mixture that
 * merely passes lambda 1 fits in with what lies about it, and there is nothing that a loop could hide.
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
  const isKnown = (zone: HeldZone): boolean =>
    knownZones.some((one) => one.row === zone.row && one.fromRpm < zone.toRpm && zone.fromRpm < one.toRpm)
  // Trims tell of a loop by themselves.
  if (all.trim || zones.every(isKnown)) return [...zones]
  const { held, edge } = markHeld(grid, all, zones)
  const open = keepSamples(
    all,
    held.map((h, i) => (h || edge[i] ? 0 : 1)),
  )
  const fields = all.lambda.map((_, c) => withDoubt(options, c + 1, lag, solveCylinder(options, c, open)))
  return zones.filter((zone) => isKnown(zone) || fields.some((field, c) => standsOut(options, all, zone, field, c)))
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
  let [apart, doubt] = [0, 0]
  for (let i = 0; i < placement.count; i++) {
    apart += need[i]! - valueAt(placement, x, i)
    doubt += valueAt(placement, deviation, i)
  }
  const [mean, half] = [Math.abs(apart) / placement.count, (INTERVAL * doubt) / placement.count]
  return mean > LEAST_APART || mean > half
}
