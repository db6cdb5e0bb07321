import type { Grid } from '../../table/table'

/** The range in which readings can be placed: the table and half a step around it. */
export function marginRange(grid: Grid): { rpm: [number, number]; load: [number, number] } {
  const margin = (points: readonly number[]): [number, number] => {
    const n = points.length
    return [points[0]! - (points[1]! - points[0]!) / 2, points[n - 1]! + (points[n - 1]! - points[n - 2]!) / 2]
  }
  return { rpm: margin(grid.rpm), load: margin(grid.load) }
}
