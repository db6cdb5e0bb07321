import { rowFinder } from '../../table/lookup'
import type { Grid } from '../../table/table'
import { BIN } from '../readings/rowBins'
import type { Samples } from '../readings/samples'
import type { HeldZone } from './heldZones'

/** 1 for each sample that stands in a zone, or at its very edge where the sensor smears the step. */
export function markHeld(
  grid: Grid,
  samples: Samples,
  zones: readonly HeldZone[],
): { held: Uint8Array; edge: Uint8Array } {
  const held = new Uint8Array(samples.count)
  const edge = new Uint8Array(samples.count)
  if (zones.length === 0) return { held, edge }
  const rowOf = rowFinder(grid)
  for (let i = 0; i < samples.count; i++) {
    const row = rowOf(samples.load[i]!)
    const rpm = samples.rpm[i]!
    for (const zone of zones) {
      if (zone.row !== row) continue
      if (rpm >= zone.fromRpm && rpm < zone.toRpm) held[i] = 1
      else if (rpm >= zone.fromRpm - BIN && rpm < zone.toRpm + BIN) edge[i] = 1
    }
  }
  return { held, edge }
}
