import { addAt, banded, cholesky, solveFactored, type Banded } from '../numbers/banded'
import { logDeterminant } from '../numbers/selectedInverse'
import type { NodeSums } from './nodeSums'

/** What a reading's own error and a stretch's own level are taken to be: variances of ln lambda. */
export interface Errors {
  /** of one reading, as far as readings are independent */
  reading: number
  /** of the level of one run */
  level: number
}

/** A prior conditioned on readings. */
export interface Conditioned {
  /** mean of the field by node, and level by stretch */
  x: Float64Array
  levels: Float64Array
  /** factor of the precision of the field, were the levels known */
  factor: Banded
  /** by stretch: what one unit of its level does to the field */
  pull: Float64Array[]
  /** factor of the precision of the levels */
  levelFactor: Banded
  /** -2 ln of the marginal likelihood, less what no scale changes */
  deviance: number
}

/**
 * Field and levels given the readings: normal equations `[P B; B' D]` solved by the banded factor of P, and the Schur
 * complement for the levels.
 *
 * @param prior precision of the field, with ln of its determinant
 * @see Rasmussen and Williams, Gaussian Processes for Machine Learning (2006), ch. 2 and 5
 */
export function condition(
  { normal, right, square, weight, stretches }: NodeSums,
  prior: { precision: Banded; logDeterminant: number },
  { reading, level }: Errors,
): Conditioned {
  const precision: Banded = { ...prior.precision, data: Float64Array.from(prior.precision.data) }
  for (let k = 0; k < precision.data.length; k++) precision.data[k]! += normal.data[k]! / reading
  const factor = cholesky(precision)
  const plain = solveFactored(
    factor,
    right.map((one) => one / reading),
  )
  const pull = stretches.map(({ nodes }) =>
    solveFactored(
      factor,
      nodes.map((one) => one / reading),
    ),
  )
  const count = stretches.length
  const schur = banded(count, count - 1)
  const rest = new Float64Array(count)
  for (let a = 0; a < count; a++) {
    const { nodes, touched, weight: own, right: sum } = stretches[a]!
    for (let b = 0; b <= a; b++) {
      const other = pull[b]!
      let shared = 0
      for (const k of touched) shared += nodes[k]! * other[k]!
      addAt(schur, a, b, -shared / reading)
    }
    addAt(schur, a, a, own / reading + 1 / level)
    rest[a] = (sum - dot(nodes, plain)) / reading
  }
  const levelFactor = cholesky(schur)
  const levels = solveFactored(levelFactor, rest)
  const x = Float64Array.from(plain)
  pull.forEach((z, g) => z.forEach((value, k) => (x[k]! -= value * levels[g]!)))
  const explained = dot(right, x) + stretches.reduce((sum, one, g) => sum + one.right * levels[g]!, 0)
  const deviance =
    (square - explained) / reading +
    weight * Math.log(reading) +
    logDeterminant(factor) -
    prior.logDeterminant +
    logDeterminant(levelFactor) +
    count * Math.log(level)
  return { x, levels, factor, pull, levelFactor, deviance }
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0
  for (let k = 0; k < a.length; k++) sum += a[k]! * b[k]!
  return sum
}
