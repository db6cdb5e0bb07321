import { cholesky, solveFactored, type Banded } from './banded'

/**
 * Inverse of a small symmetric positive definite matrix, whole.
 *
 * @throws RangeError when the matrix is not positive definite
 */
export function inverseOf(matrix: Banded): number[][] {
  const factored = cholesky(matrix)
  return Array.from({ length: matrix.size }, (_, k) => [
    ...solveFactored(
      factored,
      Float64Array.from({ length: matrix.size }, (_, j) => (j === k ? 1 : 0)),
    ),
  ])
}
