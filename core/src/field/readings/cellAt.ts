import type { Grid } from '../../table/table'

/**
 * The cell that a place lies nearest to; null where it lies further outside than half a cell.
 *
 * @example
 * cellAt({ rpm: [2000, 4000], load: [20, 60] }, 2900, 25) // { row: 0, column: 0 }
 */
export function cellAt({ rpm, load }: Grid, speed: number, at: number): { row: number; column: number } | null {
  const [row, column] = [nearestIn(load, at), nearestIn(rpm, speed)]
  return row === null || column === null ? null : { row, column }
}

function nearestIn(points: readonly number[], value: number): number | null {
  const last = points.length - 1
  const beyond = (edge: number, next: number | undefined): number =>
    next === undefined ? 1 : Math.abs(edge - next) / 2
  if (!(value >= points[0]! - beyond(points[0]!, points[1]))) return null
  if (!(value <= points[last]! + beyond(points[last]!, points[last - 1]))) return null
  let best = 0
  for (let k = 1; k <= last; k++) if (Math.abs(points[k]! - value) < Math.abs(points[best]! - value)) best = k
  return best
}
