/**
 * A symmetric positive definite matrix stored by its lower band: `data[row * (width + 1) + (width - (row - column))]`.
 */
export interface Banded {
  size: number
  /** Sub-diagonals kept. */
  width: number
  data: Float64Array
}

/** An all-zero banded matrix. */
export function banded(size: number, width: number): Banded {
  return { size, width, data: new Float64Array(size * (width + 1)) }
}

/** Adds to one element; the order of row and column does not matter. The element must lie in the band. */
export function addAt(m: Banded, row: number, column: number, value: number): void {
  const low = Math.min(row, column)
  const high = Math.max(row, column)
  m.data[high * (m.width + 1) + m.width - (high - low)]! += value
}

/** The matrix times a vector. */
export function timesVector({ size, width, data }: Banded, x: Float64Array): Float64Array {
  const out = new Float64Array(size)
  for (let row = 0; row < size; row++) {
    for (let column = Math.max(0, row - width); column <= row; column++) {
      const value = data[row * (width + 1) + width - (row - column)]!
      out[row]! += value * x[column]!
      if (column < row) out[column]! += value * x[row]!
    }
  }
  return out
}

/**
 * Cholesky factor L of the matrix, in the same banded layout.
 *
 * @throws RangeError when the matrix is not positive definite
 * @see Golub and Van Loan, Matrix Computations, banded Cholesky (4.3.5)
 */
export function cholesky(m: Banded): Banded {
  const { size, width } = m
  const stride = width + 1
  const l = Float64Array.from(m.data)
  for (let row = 0; row < size; row++) {
    const first = Math.max(0, row - width)
    // Where the row's element of column 0 would stand.
    const atRow = row * stride + width - row
    for (let column = first; column <= row; column++) {
      const atColumn = column * stride + width - column
      // Four sums side by side: one would wait for each product before the next.
      let sum = l[atRow + column]!
      let second = 0
      let third = 0
      let fourth = 0
      let k = first
      for (const end = column - 3; k < end; k += 4) {
        sum -= l[atRow + k]! * l[atColumn + k]!
        second -= l[atRow + k + 1]! * l[atColumn + k + 1]!
        third -= l[atRow + k + 2]! * l[atColumn + k + 2]!
        fourth -= l[atRow + k + 3]! * l[atColumn + k + 3]!
      }
      for (; k < column; k++) sum -= l[atRow + k]! * l[atColumn + k]!
      sum += second + (third + fourth)
      if (column < row) l[atRow + column] = sum / l[atColumn + column]!
      else if (sum > 0) l[atRow + row] = Math.sqrt(sum)
      else throw new RangeError('The normal equations are not positive definite.')
    }
  }
  return { size, width, data: l }
}

/** Solves L L' x = b for a factor made by `cholesky`. */
export function solveFactored(l: Banded, b: Float64Array): Float64Array {
  return backward(l, forward(l, b))
}

/**
 * The first half of it: solves L x = b.
 *
 * @param from row before which `b` is nothing, and so is `x`
 */
export function forward({ size, width, data }: Banded, b: Float64Array, from = 0): Float64Array {
  const stride = width + 1
  const x = Float64Array.from(b)
  for (let row = from; row < size; row++) {
    const atRow = row * stride + width - row
    let sum = x[row]!
    for (let k = Math.max(from, row - width); k < row; k++) sum -= data[atRow + k]! * x[k]!
    x[row] = sum / data[atRow + row]!
  }
  return x
}

/** The second half of it: solves L' x = b. */
export function backward({ size, width, data }: Banded, b: Float64Array): Float64Array {
  const stride = width + 1
  const x = Float64Array.from(b)
  for (let row = size - 1; row >= 0; row--) {
    const atRow = row * stride + width - row
    const value = x[row]! / data[atRow + row]!
    x[row] = value
    // Off the rows above at once, along the band.
    for (let k = Math.max(0, row - width); k < row; k++) x[k]! -= data[atRow + k]! * value
  }
  return x
}
