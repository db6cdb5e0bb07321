/**
 * Mean of one row over those columns of equal length that have a value there, such as the mixture over cylinders; NaN where
 * none has.
 *
 * @example
 * meanAcross([[1, 2], [3, 6]], 1) // 4
 * meanAcross([[1, 2], [NaN, NaN]], 1) // 2
 */
export function meanAcross(columns: readonly ArrayLike<number>[], row: number): number {
  let sum = 0
  let count = 0
  for (const column of columns) {
    const value = column[row]!
    if (value !== value) continue
    sum += value
    count++
  }
  return count ? sum / count : NaN
}
