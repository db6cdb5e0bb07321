import type { LoadGrid } from '../../table/table'
import type { HeldZone } from './heldZones'

/** Share of the way down to the next row by which a zone's readings may lie below a row that it holds. */
const BELOW = 0.2

/** Share of the gap beside a held cell that must be open for readings there to tell of the cell. */
const OPEN = 0.3

/**
 * Whether a held cell also serves places where the loop has let go: it is the last that a zone holds, and much of the gap to its
 * neighbour is open. What stands in it is worked through there, and nothing of it shows under the loop.
 */
export function servesOpen({ rpm }: LoadGrid, { fromRpm, toRpm }: HeldZone, column: number): boolean {
  const here = rpm[column]!
  const [slower, faster] = [rpm[column - 1], rpm[column + 1]]
  const above = faster !== undefined && faster > toRpm ? (faster - toRpm) / (faster - here) : 0
  const below = slower !== undefined && slower < fromRpm ? (fromRpm - slower) / (here - slower) : 0
  return Math.max(above, below) >= OPEN
}

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
