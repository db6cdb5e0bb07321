import { banded, type Banded } from './banded'

/**
 * Elements of the inverse inside the band, from a factor made by `cholesky`: the variances and the covariances of
 * neighbours, without the whole inverse. Cost is that of the factor.
 *
 * @see Takahashi, Fagan and Chin (1973); Erisman and Tinney (1975)
 */
export function selectedInverse(l: Banded): Banded {
  const { size, width, data } = l
  const stride = width + 1
  const z = banded(size, width)
  const at = (row: number, column: number): number =>
    row >= column ? z.data[row * stride + width - (row - column)]! : z.data[column * stride + width - (column - row)]!
  for (let column = size - 1; column >= 0; column--) {
    const last = Math.min(size - 1, column + width)
    const pivot = data[column * stride + width]!
    for (let row = last; row >= column; row--) {
      let sum = row === column ? 1 / pivot : 0
      for (let k = column + 1; k <= last; k++) sum -= data[k * stride + width - (k - column)]! * at(k, row)
      z.data[row * stride + width - (row - column)] = sum / pivot
    }
  }
  return z
}

/** Its diagonal. */
export function diagonal({ size, width, data }: Banded): Float64Array {
  return Float64Array.from({ length: size }, (_, k) => data[k * (width + 1) + width]!)
}

/** ln of the determinant of the matrix that was factored. */
export function logDeterminant(l: Banded): number {
  let sum = 0
  for (let k = 0; k < l.size; k++) sum += Math.log(l.data[k * (l.width + 1) + l.width]!)
  return 2 * sum
}
