import { addAt, backward, banded, cholesky, forward, solveFactored, type Banded } from '../numbers/banded'
import { dot } from '../numbers/dot'
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
 * A prior conditioned on readings as far as that does not hang on how much the levels of runs differ. With the factor
 * `L L'` of the field's precision, only `L^-1` of what readings push is kept: products of those tell the likelihood, and
 * the other half of the solve is for the one field that is kept in the end.
 */
export interface Unlevelled {
  sums: NodeSums
  /** variance of one reading */
  reading: number
  factor: Banded
  /** L^-1 of the push of all readings, by node; by stretch, of its nodes */
  pushed: Float64Array
  ofStretches: Float64Array[]
  /** products of `pushed` with itself and with each of `ofStretches`; of those, one with another */
  square: number
  cross: Float64Array
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
  const pushed = forward(factor, right)
  const firsts = stretches.map(({ touched }) => touched[0] ?? 0)
  const ofStretches = stretches.map(({ nodes }, g) => forward(factor, nodes, firsts[g]!))
  const shared = banded(stretches.length, stretches.length - 1)
  ofStretches.forEach((one, a) => {
    for (let b = 0; b <= a; b++)
      addAt(shared, a, b, dot(one, ofStretches[b]!, Math.max(firsts[a]!, firsts[b]!)) / reading)
  })
  return {
    sums,
    reading,
    factor,
    pushed,
    ofStretches,
    square: dot(pushed, pushed),
    cross: Float64Array.from(ofStretches, (one, g) => dot(pushed, one, firsts[g]!)),
    shared,
    logDeterminant: logDeterminant(factor) - prior.logDeterminant,
  }
}

/** The second half of it: levels of runs whose variance is `level`, and how likely they make the readings. */
export function levelsGiven(
  { sums, reading, square: explainedByField, cross, shared, logDeterminant: ofField }: Unlevelled,
  level: number,
): Pick<Conditioned, 'levels' | 'levelFactor' | 'deviance'> {
  const { square, weight, stretches } = sums
  const schur: Banded = { ...shared, data: shared.data.map((one) => -one / reading) }
  stretches.forEach((one, a) => addAt(schur, a, a, one.weight / reading + 1 / level))
  const levelFactor = cholesky(schur)
  const rest = Float64Array.from(stretches, (one, g) => one.right - cross[g]! / reading)
  const levels = solveFactored(
    levelFactor,
    rest.map((one) => one / reading),
  )
  const explained = explainedByField / reading + dot(rest, levels)
  const deviance =
    (square - explained) / reading +
    weight * Math.log(reading) +
    ofField +
    logDeterminant(levelFactor) +
    stretches.length * Math.log(level)
  return { levels, levelFactor, deviance }
}

/** The whole of it, with the field itself. */
export function conditionLevels(field: Unlevelled, level: number): Conditioned {
  const { reading, factor, pushed, ofStretches } = field
  const given = levelsGiven(field, level)
  const solved = (half: Float64Array): Float64Array =>
    backward(
      factor,
      half.map((one) => one / reading),
    )
  const x = solved(pushed)
  const pull = ofStretches.map(solved)
  pull.forEach((z, g) => z.forEach((value, k) => (x[k]! -= value * given.levels[g]!)))
  return { ...given, x, factor, pull }
}
