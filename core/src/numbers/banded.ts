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
    let column = first
    // Four columns at a time: what is read of the row serves them all, and no sum waits for another.
    for (; column + 3 < row; column += 4) {
      const a = column * stride + width - column
      const b = a + width
      const c = b + width
      const d = c + width
      let inA = l[atRow + column]!
      let inB = l[atRow + column + 1]!
      let inC = l[atRow + column + 2]!
      let inD = l[atRow + column + 3]!
      let k = first
      for (const end = column - 1; k < end; k += 2) {
        const one = l[atRow + k]!
        const next = l[atRow + k + 1]!
        inA -= one * l[a + k]!
        inB -= one * l[b + k]!
        inC -= one * l[c + k]!
        inD -= one * l[d + k]!
        inA -= next * l[a + k + 1]!
        inB -= next * l[b + k + 1]!
        inC -= next * l[c + k + 1]!
        inD -= next * l[d + k + 1]!
      }
      if (k < column) {
        const one = l[atRow + k]!
        inA -= one * l[a + k]!
        inB -= one * l[b + k]!
        inC -= one * l[c + k]!
        inD -= one * l[d + k]!
      }
      inA /= l[a + column]!
      inB = (inB - inA * l[b + column]!) / l[b + column + 1]!
      inC = (inC - inA * l[c + column]! - inB * l[c + column + 1]!) / l[c + column + 2]!
      inD = (inD - inA * l[d + column]! - inB * l[d + column + 1]! - inC * l[d + column + 2]!) / l[d + column + 3]!
      l[atRow + column] = inA
      l[atRow + column + 1] = inB
      l[atRow + column + 2] = inC
      l[atRow + column + 3] = inD
    }
    for (; column <= row; column++) {
      const atColumn = column * stride + width - column
      let sum = l[atRow + column]!
      for (let k = first; k < column; k++) sum -= l[atRow + k]! * l[atColumn + k]!
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

/** The first half of it: solves L x = b. */
export function forward(l: Banded, b: Float64Array): Float64Array {
  return forwardAll(l, [b])[0]!
}

/**
 * The same for many right sides.
 *
 * @param from row of each before which `b` is nothing, and so is `x`
 */
export function forwardAll(l: Banded, many: readonly Float64Array[], from?: readonly number[]): Float64Array[] {
  const solved = many.map((b) => b.slice())
  for (let g = 0; g < solved.length; g += 4) {
    const of = solved.slice(g, g + 4)
    forwardFour(l, of, from ? Math.min(...from.slice(g, g + 4)) : 0)
  }
  return solved
}

/** Up to four side by side, in place: what is read of the factor serves them all, and no sum waits for another. */
function forwardFour({ size, width, data }: Banded, of: readonly Float64Array[], from: number): void {
  const stride = width + 1
  // Where there are fewer, the last is worked out more than once, to the same.
  const [a, b = a, c = b, d = c] = of as [Float64Array, ...Float64Array[]]
  for (let row = from; row < size; row++) {
    const atRow = row * stride + width - row
    let inA = a[row]!
    let inB = b[row]!
    let inC = c[row]!
    let inD = d[row]!
    for (let k = Math.max(from, row - width); k < row; k++) {
      const one = data[atRow + k]!
      inA -= one * a[k]!
      inB -= one * b[k]!
      inC -= one * c[k]!
      inD -= one * d[k]!
    }
    const pivot = data[atRow + row]!
    a[row] = inA / pivot
    b[row] = inB / pivot
    c[row] = inC / pivot
    d[row] = inD / pivot
  }
}

/** The second half of it: solves L' x = b. */
export function backward({ size, width, data }: Banded, b: Float64Array): Float64Array {
  const stride = width + 1
  const x = b.slice()
  for (let row = size - 1; row >= 0; row--) {
    const atRow = row * stride + width - row
    const value = x[row]! / data[atRow + row]!
    x[row] = value
    // Off the rows above at once, along the band.
    for (let k = Math.max(0, row - width); k < row; k++) x[k]! -= data[atRow + k]! * value
  }
  return x
}
