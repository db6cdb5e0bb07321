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

/** A prior conditioned on readings as far as that does not hang on how much the levels of runs differ. */
export interface Unlevelled {
  sums: NodeSums
  /** variance of one reading */
  reading: number
  factor: Banded
  /** mean of the field by node, were all levels nothing */
  plain: Float64Array
  pull: Float64Array[]
  /** what stretches share of the field, one beside another */
  shared: Banded
  /** ln of the determinant of the field's precision, less that of its prior */
  logDeterminant: number
}

/**
 * Field and levels given the readings: normal equations `[P B; B' D]` solved by the banded factor of P, and the Schur
 * complement for the levels.
 *
 * @param prior precision of the field, with ln of its determinant
 * @see Rasmussen and Williams, Gaussian Processes for Machine Learning (2006), ch. 2 and 5
 */
export function condition(sums: NodeSums, prior: Prior, { reading, level }: Errors): Conditioned {
  return conditionLevels(conditionField(sums, prior, reading), level)
}

interface Prior {
  precision: Banded
  logDeterminant: number
}

/** The first half of it, which serves every level. */
export function conditionField(sums: NodeSums, prior: Prior, reading: number): Unlevelled {
  const { normal, right, stretches } = sums
  const precision: Banded = { ...prior.precision, data: Float64Array.from(prior.precision.data) }
  for (let k = 0; k < precision.data.length; k++) precision.data[k]! += normal.data[k]! / reading
  const factor = cholesky(precision)
  const from = (push: Float64Array): Float64Array =>
    solveFactored(
      factor,
      push.map((one) => one / reading),
    )
  const pull = stretches.map(({ nodes }) => from(nodes))
  const shared = banded(stretches.length, stretches.length - 1)
  stretches.forEach(({ nodes, touched }, a) => {
    for (let b = 0; b <= a; b++) {
      const other = pull[b]!
      let sum = 0
      for (const k of touched) sum += nodes[k]! * other[k]!
      addAt(shared, a, b, sum)
    }
  })
  return {
    sums,
    reading,
    factor,
    plain: from(right),
    pull,
    shared,
    logDeterminant: logDeterminant(factor) - prior.logDeterminant,
  }
}

/** The second half: levels of runs whose variance is `level`. */
export function conditionLevels(
  { sums, reading, factor, plain, pull, shared, logDeterminant: ofField }: Unlevelled,
  level: number,
): Conditioned {
  const { right, square, weight, stretches } = sums
  const count = stretches.length
  const schur: Banded = { ...shared, data: shared.data.map((one) => -one / reading) }
  stretches.forEach((one, a) => addAt(schur, a, a, one.weight / reading + 1 / level))
  const levelFactor = cholesky(schur)
  const rest = stretches.map((one) => (one.right - dot(one.nodes, plain)) / reading)
  const levels = solveFactored(levelFactor, Float64Array.from(rest))
  const x = Float64Array.from(plain)
  pull.forEach((z, g) => z.forEach((value, k) => (x[k]! -= value * levels[g]!)))
  const explained = dot(right, x) + stretches.reduce((sum, one, g) => sum + one.right * levels[g]!, 0)
  const deviance =
    (square - explained) / reading +
    weight * Math.log(reading) +
    ofField +
    logDeterminant(levelFactor) +
    count * Math.log(level)
  return { x, levels, factor, pull, levelFactor, deviance }
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0
  for (let k = 0; k < a.length; k++) sum += a[k]! * b[k]!
  return sum
}
