import { factorFromPercent } from '../fuel/mixture'
import { bridgeCells } from '../table/bridge'
import { build, type Grid, type SparseMatrix } from '../table/table'
import type { CylinderField } from './field'

/** What a node between measured ones may be off by beyond their own intervals, %: a bend that nobody saw. */
const BEND = 2
/** Share of the difference between the nodes about it that such a bend may add. */
const BEND_OF_DIFFERENCE = 0.25

/**
 * The field with its gaps bridged: nodes between measured ones get the change that lies straight between theirs, with an
 * interval that says that nobody measured there. Nothing beyond what was measured, and no line over a node that a closed
 * loop holds.
 */
export function bridgeField(grid: Grid, one: CylinderField): CylinderField {
  const walls = build(grid, (row, column) => one.held[row]![column]! && !one.byTrim[row]![column])
  const bridge = bridgeCells(grid, one.changePct, walls)
  if (!bridge.filled.flat().includes(true)) return one
  const half = (row: number, column: number): number | null => {
    const [low, high] = [one.lowPct[row]![column] ?? null, one.highPct[row]![column] ?? null]
    return low === null || high === null ? null : (high - low) / 2
  }
  const halves = bridgeCells(grid, build(grid, half), walls).values
  const at = <T>(own: T[][], bridged: (row: number, column: number) => T): T[][] =>
    build(grid, (row, column) => (bridge.filled[row]![column] ? bridged(row, column) : own[row]![column]!))
  const change = (row: number, column: number): number => bridge.values[row]![column]!
  const doubt = (row: number, column: number): number =>
    Math.hypot(halves[row]![column]!, BEND + BEND_OF_DIFFERENCE * difference(one.changePct, row, column))
  return {
    ...one,
    lambda: at(one.lambda, (row, column) => one.target[row]![column]! * factorFromPercent(change(row, column))),
    changePct: at(one.changePct, change),
    lowPct: at(one.lowPct, (row, column) => change(row, column) - doubt(row, column)),
    highPct: at(one.highPct, (row, column) => change(row, column) + doubt(row, column)),
    samples: at(one.samples, () => 0),
    passes: at(one.passes, () => 0),
    evidence: at(one.evidence, () => 'bridged'),
  }
}

/** Largest difference between the nearest known nodes on either side of one, along its row and along its column. */
function difference(known: SparseMatrix, row: number, column: number): number {
  const across = known[row]!
  const up = known.map((cells) => cells[column]!)
  return Math.max(apart(across, column), apart(up, row))
}

function apart(line: readonly (number | null)[], at: number): number {
  const below = line.slice(0, at).findLast((value) => value !== null)
  const above = line.slice(at + 1).find((value) => value !== null)
  return below != null && above != null ? Math.abs(above - below) : 0
}
