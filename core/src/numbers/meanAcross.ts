/**
 * Mean of one row over columns of equal length, such as the mixture over cylinders; NaN where a column has none.
 *
 * @example
 * meanAcross([[1, 2], [3, 6]], 1) // 4
 */
export function meanAcross(columns: readonly ArrayLike<number>[], row: number): number {
  let sum = 0
  for (const column of columns) sum += column[row]!
  return sum / columns.length
}
