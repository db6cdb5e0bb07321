import { percentFromFactor } from '../../fuel/mixture'
import { build, type SparseMatrix } from '../../table/table'
import { addedSince, isAskedByLoop } from './askedByLoop'
import type { Evidence } from '../evidence'
import type { FieldOptions } from '../field'
import type { HeldZone } from './heldZones'
import { loadScale } from '../solve/prior'

/** What a field holds of a node. */
interface NodeState {
  held: boolean
  grade: Evidence
  /** ln of the need as the smooth field has it, known well enough or not */
  need: number
}

/**
 * How near a row lies to a zone, on the axis along which an engine changes evenly: at 10 % of plate, 15 and 20 % are near. A near
 * row leant on the zone at each speed at which it was not read. A row further off did so only if it was not read at all.
 */
const NEAR = 0.6
/** Less than this, in ln of fuel, is rounding. */
const NOTHING = 1e-6

/**
 * Takes back what was corrected in a held zone before anybody knew that it is one. The passes before took the loop's mixture for
 * what the engine does by itself. So a held node goes back to what it was.
 *
 * Those passes leant on the loop's mixture about the zone, too: one node along rpm, and along load as far as no row was read
 * (of near rows, not at that speed). A node there that no reading tells of goes where the smooth field has it, but no further
 * than back to what it was.
 *
 * @param zones of these runs
 * @returns % of fuel, `[load][rpm]`, null for nothing
 */
export function takenBack(
  options: FieldOptions,
  cylinder: number,
  zones: readonly HeldZone[],
  nodeAt: (row: number, column: number) => NodeState,
): SparseMatrix {
  const { grid } = options
  const late = zones.filter((zone) => zone.isLate)
  const added = addedSince(options, cylinder)
  if (!added || late.length === 0) return build(grid, () => null)
  const { rpm } = grid
  const loads = loadScale(grid)
  const isReadAt = build(grid, (row, column) => {
    const { held, grade } = nodeAt(row, column)
    return held || grade === 'solid' || grade === 'thin'
  })
  const isRead = (row: number, column: number, zone: HeldZone): boolean =>
    Math.abs(loads[row]! - loads[zone.row]!) <= NEAR ? isReadAt[row]![column]! : isReadAt[row]!.includes(true)
  const isAbout = (zone: HeldZone, row: number, column: number): boolean => {
    const way = Math.sign(row - zone.row)
    for (let at = row; at !== zone.row; at -= way) if (isRead(at, column, zone)) return false
    return (rpm[column + 1] ?? rpm[column]!) >= zone.fromRpm && (rpm[column - 1] ?? rpm[column]!) <= zone.toRpm
  }
  return build(grid, (row, column) => {
    const { held, grade, need } = nodeAt(row, column)
    if (grade !== 'none' || !late.some((zone) => isAbout(zone, row, column))) return null
    const whole = -added(row, column)
    if (!isAskedByLoop(-whole, options.target[row]![column]!)) return null
    // No further than back: nothing that the engine has not run on.
    const share = held || Number.isNaN(need) ? 1 : Math.min(1, Math.max(0, need / whole))
    return Math.abs(whole * share) > NOTHING ? percentFromFactor(Math.exp(whole * share)) : null
  })
}
