import { addAt, type Banded } from '../../numbers/banded'
import type { Grid } from '../../table/table'

/**
 * Where samples stand on a grid: the cell's lower node and the fractions toward the next rpm and load breakpoint.
 * Nodes are numbered rpm-major, `node = column * loads + row`, so the band of the normal equations is narrow.
 */
export interface Placement {
  count: number
  loads: number
  columns: number
  /** node below and left of the sample */
  node: Uint16Array
  across: Float32Array
  up: Float32Array
}

/** Places samples on the grid by the controller's own bilinear rule, held at the ends. */
export function place(grid: Grid, rpm: Float32Array, load: Float32Array): Placement {
  const count = rpm.length
  const loads = grid.load.length
  const placement = {
    count,
    loads,
    columns: grid.rpm.length,
    node: new Uint16Array(count),
    across: new Float32Array(count),
    up: new Float32Array(count),
  }
  const rpmPoints = Float64Array.from(grid.rpm)
  const loadPoints = Float64Array.from(grid.load)
  const rpmSteps = Float64Array.from(grid.rpm, (from, k) => 1 / (grid.rpm[k + 1]! - from))
  const loadSteps = Float64Array.from(grid.load, (from, k) => 1 / (grid.load[k + 1]! - from))
  const { node, across, up } = placement
  const [lastColumn, lastRow] = [rpmPoints.length - 2, loads - 2]
  // Samples come in time order: from the cell of the last one it is not far to the next.
  let column = 0
  let row = 0
  for (let i = 0; i < count; i++) {
    const r = rpm[i]!
    const l = load[i]!
    while (column < lastColumn && r >= rpmPoints[column + 1]!) column++
    while (column > 0 && r < rpmPoints[column]!) column--
    while (row < lastRow && l >= loadPoints[row + 1]!) row++
    while (row > 0 && l < loadPoints[row]!) row--
    node[i] = column * loads + row
    across[i] = clamp01((r - rpmPoints[column]!) * rpmSteps[column]!)
    up[i] = clamp01((l - loadPoints[row]!) * loadSteps[row]!)
  }
  return placement
}

function clamp01(value: number): number {
  return value < 0 ? 0 : value > 1 ? 1 : value
}

/** Value of a field (by node) at a sample. */
export function valueAt(p: Placement, x: Float64Array, i: number): number {
  const k = p.node[i]!
  const u = p.across[i]!
  const v = p.up[i]!
  const left = x[k]! + v * (x[k + 1]! - x[k]!)
  const right = x[k + p.loads]! + v * (x[k + p.loads + 1]! - x[k + p.loads]!)
  return left + u * (right - left)
}

/**
 * Adds what the readings of one cell come to over its four nodes.
 *
 * @param node the cell's lower left
 * @param sums of products of their weights, row by row of the lower triangle: 00, 10, 11, 20, 21, 22, 30 and so on
 */
export function addCell(normal: Banded, node: number, loads: number, sums: readonly number[]): void {
  const corner = [node, node + 1, node + loads, node + loads + 1]
  for (let a = 0, n = 0; a < 4; a++) for (let b = 0; b <= a; b++, n++) addAt(normal, corner[a]!, corner[b]!, sums[n]!)
}
