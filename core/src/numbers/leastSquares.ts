import { addAt, banded, cholesky, solveFactored } from './banded'

/**
 * Coefficients that fit rows to values with the least sum of squares, by the normal equations: for a handful of well-scaled
 * unknowns. A trace of ridge keeps what the rows do not tell at zero.
 *
 * @param rows one row of regressors a value
 * @throws RangeError when there are no rows
 * @example
 * leastSquares([[1, 0], [1, 1], [1, 2]], [1, 3, 5])[1] // 2
 */
export function leastSquares(rows: readonly (readonly number[])[], values: ArrayLike<number>): Float64Array {
  const size = rows[0]?.length ?? 0
  if (size === 0) throw new RangeError('There is nothing to fit.')
  const normal = banded(size, size - 1)
  const right = new Float64Array(size)
  rows.forEach((row, i) => {
    for (let a = 0; a < size; a++) {
      right[a]! += row[a]! * values[i]!
      for (let b = 0; b <= a; b++) addAt(normal, a, b, row[a]! * row[b]!)
    }
  })
  for (let a = 0; a < size; a++) addAt(normal, a, a, 1e-9 * Math.max(1, rows.length))
  return solveFactored(cholesky(normal), right)
}
