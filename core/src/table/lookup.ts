import type { Grid, Matrix } from './table'

/** The cell that a value lies in, from 0 to length - 2, the ends' where it lies beyond them. */
function cellOf(breakpoints: ArrayLike<number>, value: number): number {
  let low = 0
  let high = breakpoints.length - 2
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (breakpoints[middle]! <= value) low = middle
    else high = middle - 1
  }
  return low
}

/** How far into its cell a value lies, 0 to 1, held at the ends. */
function shareOf(breakpoints: ArrayLike<number>, cell: number, value: number): number {
  const from = breakpoints[cell]!
  const to = breakpoints[cell + 1]!
  return !(value > from) ? 0 : value >= to ? 1 : (value - from) / (to - from)
}

/**
 * Place of a value on rising breakpoints as controllers take it: the cell below and the fraction toward the next,
 * held at the ends.
 *
 * @param breakpoints strictly rising, at least two
 * @returns `[index, fraction]`, index from 0 to length - 2, fraction from 0 to 1
 */
export function locate(breakpoints: ArrayLike<number>, value: number): [number, number] {
  const cell = cellOf(breakpoints, value)
  return [cell, shareOf(breakpoints, cell, value)]
}

/**
 * Bilinear interpolation in a table, held flat outside it.
 *
 * @param values `[load][rpm]`
 * @example
 * interpolate({ rpm: [2000, 4000], load: [0, 100] }, [[0, 10], [20, 30]], 3000, 50) // 15
 */
export function interpolate(grid: Grid, values: Matrix, rpm: number, load: number): number {
  const column = cellOf(grid.rpm, rpm)
  const across = shareOf(grid.rpm, column, rpm)
  const row = cellOf(grid.load, load)
  const up = shareOf(grid.load, row, load)
  const below = values[row]!
  const above = values[row + 1]!
  return (
    (below[column]! * (1 - across) + below[column + 1]! * across) * (1 - up) +
    (above[column]! * (1 - across) + above[column + 1]! * across) * up
  )
}

/**
 * Index of the breakpoint nearest to a value; the lower one on a tie.
 *
 * @param breakpoints rising, in the unit of `value`
 * @example
 * nearest([0, 20, 40], 29) // 1
 */
export function nearest(breakpoints: readonly number[], value: number): number {
  const [index, fraction] = locate(breakpoints, value)
  return fraction > 0.5 ? index + 1 : index
}

/** Finds the nearest load row of values that come one after the other, mostly in the same row. */
export function rowFinder({ load }: Pick<Grid, 'load'>): (value: number) => number {
  let row = -1
  let from = NaN
  let to = NaN
  return (value) => {
    if (value > from && value < to) return row
    row = nearest(load, value)
    from = row > 0 ? (load[row - 1]! + load[row]!) / 2 : -Infinity
    to = row < load.length - 1 ? (load[row]! + load[row + 1]!) / 2 : Infinity
    return row
  }
}
