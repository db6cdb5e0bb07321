import type { LoadGrid } from '../table/table'
import type { HeldZone } from './heldZones'

/** Share of the way down to the next row by which a zone's readings may lie below a row that it holds. */
const BELOW = 0.2

/**
 * Whether a zone holds a cell: readings of its row lie at the cell's speed, and at its opening or above. One that was read well
 * below a row says nothing of it: the loop may have let go on the way.
 */
export function holdsCell({ rpm, load }: LoadGrid, zone: HeldZone, row: number, column: number): boolean {
  const below = load[zone.row - 1] ?? load[zone.row]!
  const isReached = zone.load >= load[zone.row]! - BELOW * (load[zone.row]! - below)
  const held = isReached ? zone.row : zone.row - 1
  return held === row && rpm[column]! >= zone.fromRpm && rpm[column]! <= zone.toRpm
}
