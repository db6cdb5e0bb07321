import { meanAcross } from '../../numbers/meanAcross'
import { bySweep } from '../../run/bySweep'
import type { Filters, RunColumns } from '../../run/run'
import type { LoadGrid, Matrix } from '../../table/table'
import { findHeldZones, isSameZone, type HeldZone } from './heldZones'
import { appliedLag, estimateLag } from '../lag/lag'
import { marginRange } from '../solve/marginRange'
import { idleZones } from './idleZones'
import { gatherSamples, keepSamples, type Samples } from '../readings/samples'
import { isStillHeld } from './stillHeld'
import { zonesByStop } from './zonesByStop'

/** Where and how held zones are sought. */
export interface HeldChoice {
  grid: LoadGrid
  filters: Filters
  /** s; null to estimate it */
  lag: number | null
  /** false where no closed loop can hold the mixture */
  hasLoop?: boolean | undefined
}

/** Held zones of some runs, without the field: for drawing them on the ruler and comparing setups. */
export function heldZonesOfRuns(
  runs: readonly RunColumns[],
  { grid, filters, lag, hasLoop = true }: HeldChoice,
): HeldZone[] {
  if (!hasLoop) return []
  const mixed = runs.filter((run) => !run.handRange && run.lambda.length > 0).flatMap(bySweep)
  if (mixed.length === 0) return []
  const seconds = lag ?? appliedLag(estimateLag(grid, mixed, grid.loadAxis, filters))
  const samples = gatherSamples(mixed, { loadAxis: grid.loadAxis, lag: seconds, filters, range: marginRange(grid) })
  return samples.count === 0 ? [] : zonesAmong(grid, samples, mixed)
}

/** Without what was read by hand. */
export const loggedAmong = (all: Samples, runs: readonly RunColumns[]): Samples =>
  runs.some((run) => run.handRange)
    ? keepSamples(
        all,
        Uint8Array.from(all.run, (r) => (runs[r]!.handRange ? 0 : 1)),
      )
    : all

/**
 * Held zones of any cylinder, or of their mean: one loop may steer one cylinder, or all by a common probe. A reading by
 * hand cannot show that a loop held it, so those are left out.
 *
 * @param known zones of before, that stay unless these runs contradict them
 * @param target wanted lambda on the grid, where idle is to be looked at, too
 */
export function zonesAmong(
  grid: LoadGrid,
  all: Samples,
  runs: readonly RunColumns[],
  known: readonly HeldZone[] = [],
  target: Matrix | null = null,
): HeldZone[] {
  const samples = loggedAmong(all, runs)
  const columns = [...samples.lambda]
  if (columns.length > 1) columns.push(columns[0]!.map((_, i) => meanAcross(columns, i)))
  const zones: HeldZone[] = []
  const stay = known.filter((zone) => isStillHeld(grid, samples, columns, zone))
  const found = (column: Float32Array): HeldZone[] =>
    grid.loadAxis === 'manifold'
      ? [...findHeldZones(grid, samples, column), ...zonesByStop(grid, samples, runs, column)]
      : [...findHeldZones(grid, samples, column), ...(target ? idleZones(grid, samples, column, target) : [])]
  for (const zone of [...stay, ...columns.flatMap(found)]) {
    const overlapping = zones.find((one) => isSameZone(one, zone))
    if (overlapping) {
      overlapping.fromRpm = Math.min(overlapping.fromRpm, zone.fromRpm)
      overlapping.toRpm = Math.max(overlapping.toRpm, zone.toRpm)
    } else zones.push({ ...zone })
  }
  return zones
}
