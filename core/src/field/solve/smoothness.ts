import type { Grid } from '../../table/table'
import { addAt, type Banded } from '../../numbers/banded'

/** One second difference over three nodes: weights scaled to uneven breakpoints. */
interface Curvature {
  nodes: [number, number, number]
  weights: [number, number, number]
}

/**
 * Second differences along both axes, scaled to uneven breakpoints so that a straight line costs nothing and an even
 * grid gives the plain 1, -2, 1.
 */
export function curvatures(grid: Grid): { rpm: Curvature[]; load: Curvature[] } {
  const loads = grid.load.length
  const rpm: Curvature[] = []
  const load: Curvature[] = []
  for (let row = 0; row < loads; row++) {
    for (let c = 1; c < grid.rpm.length - 1; c++) {
      rpm.push({
        nodes: [(c - 1) * loads + row, c * loads + row, (c + 1) * loads + row],
        weights: weightsAt(grid.rpm, c),
      })
    }
  }
  for (let c = 0; c < grid.rpm.length; c++) {
    for (let row = 1; row < loads - 1; row++) {
      load.push({
        nodes: [c * loads + row - 1, c * loads + row, c * loads + row + 1],
        weights: weightsAt(grid.load, row),
      })
    }
  }
  return { rpm, load }
}

function weightsAt(points: readonly number[], i: number): [number, number, number] {
  const before = points[i]! - points[i - 1]!
  const after = points[i + 1]! - points[i]!
  const mean = (before + after) / 2
  return [mean / before, -(mean / before + mean / after), mean / after]
}

/** Adds `strength * |D2 x|^2` of these curvatures to the normal matrix. */
export function addSmoothness(normal: Banded, rows: readonly Curvature[], strength: number): void {
  for (const { nodes, weights } of rows) {
    for (let a = 0; a < 3; a++) {
      for (let b = 0; b <= a; b++) addAt(normal, nodes[a]!, nodes[b]!, strength * weights[a]! * weights[b]!)
    }
  }
}
