import {
  addAt,
  backward,
  banded,
  cholesky,
  forward,
  forwardAll,
  solveFactored,
  type Banded,
} from '../../numbers/banded'
import { dot, dotFour } from '../../numbers/dot'
import { logDeterminant } from '../../numbers/selectedInverse'
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
  /** mean of the field by node, and levels as in `pull` */
  x: Float64Array
  levels: Float64Array
  /** factor of the precision of the field, were the levels known */
  factor: Banded
  /** by stretch, then by row where the prior has a shared part: what one unit of its level does to the field */
  pull: Float64Array[]
  /** factor of the precision of these levels */
  levelFactor: Banded
  /** -2 ln of the marginal likelihood, less what no scale changes */
  deviance: number
}

/**
 * The part of a prior conditioned on readings that does not depend on how much the levels of runs differ. The field's precision
 * is factored as `L L'`. Of what readings push, only `L^-1` times it is kept: the likelihood needs no more than products of
 * these. The second half of the solve is made once, for the one field that is kept in the end.
 */
export interface Unlevelled {
  sums: NodeSums
  /** variance of one reading */
  reading: number
  factor: Banded
  /** L^-1 of the push of all readings, by node; by level, of its nodes: stretches first, rows of the shared part behind */
  pushed: Float64Array
  ofLevels: Float64Array[]
  /** precision of the shared part, with what the field's own prior holds it by; null without */
  rows: Banded | null
  /** products of `pushed` with itself and with each of `ofLevels`; of those, one with another */
  square: number
  cross: Float64Array
  products: Banded
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
  /** precision of a part that hangs on the row of the table alone, about which the field lies; `column * rows + row` */
  shared?: { precision: Banded; logDeterminant: number }
}

/** The first half of it, which serves every level. */
export function conditionField(sums: NodeSums, prior: Prior, reading: number): Unlevelled {
  const { normal, right, stretches } = sums
  const precision: Banded = { ...prior.precision, data: Float64Array.from(prior.precision.data) }
  for (let k = 0; k < precision.data.length; k++) precision.data[k]! += normal.data[k]! / reading
  const factor = cholesky(precision)
  const pushed = forward(factor, right)
  const rows = prior.shared ? rowsOf(prior.precision, prior.shared.precision, reading) : null
  const nodesOf = [...stretches.map((one) => one.nodes), ...(rows?.nodes ?? [])]
  const firsts = [...stretches.map(({ touched }) => touched[0] ?? 0), ...(rows?.nodes.map(() => 0) ?? [])]
  const ofLevels = forwardAll(factor, nodesOf, firsts)
  const products = banded(ofLevels.length, ofLevels.length - 1)
  ofLevels.forEach((one, a) => {
    for (let b = 0; b <= a; b += 4) {
      const four = dotFour(one, ofLevels.slice(b, b + 4), firsts[a])
      for (let c = b; c <= Math.min(a, b + 3); c++) addAt(products, a, c, four[c - b]! / reading)
    }
  })
  return {
    sums,
    reading,
    factor,
    pushed,
    ofLevels,
    rows: rows && rows.precision,
    square: dot(pushed, pushed),
    cross: Float64Array.from(ofLevels, (one, g) => dot(pushed, one, firsts[g]!)),
    products,
    logDeterminant: logDeterminant(factor) - prior.logDeterminant - (prior.shared?.logDeterminant ?? 0),
  }
}

/**
 * Takes the rows of a shared part as levels of the field. The field lies about the shared part with its own precision K. So one
 * unit of a row pushes the field by K times that row, and the field holds the rows in turn.
 */
function rowsOf(field: Banded, own: Banded, reading: number): { nodes: Float64Array[]; precision: Banded } {
  const rows = own.size
  const { size, width, data } = field
  const held = Array.from({ length: rows }, () => new Float64Array(size))
  for (let node = 0; node < size; node++)
    for (let other = Math.max(0, node - width); other <= node; other++) {
      const value = data[node * (width + 1) + width - (node - other)]!
      held[other % rows]![node]! += value
      if (other < node) held[node % rows]![other]! += value
    }
  const precision = banded(rows, rows - 1)
  for (let a = 0; a < rows; a++)
    for (let b = 0; b <= a; b++) {
      let sum = a - b <= own.width ? own.data[a * (own.width + 1) + own.width - (a - b)]! : 0
      for (let k = a; k < size; k += rows) sum += held[b]![k]!
      addAt(precision, a, b, sum)
    }
  // Readings push levels in units of one reading.
  return { nodes: held.map((nodes) => nodes.map((value) => -reading * value)), precision }
}

/** The second half of it: levels of runs whose variance is `level`, and how likely they make the readings. */
export function levelsGiven(
  { sums, reading, square: explainedByField, cross, products, rows, logDeterminant: ofField }: Unlevelled,
  level: number,
): Pick<Conditioned, 'levels' | 'levelFactor' | 'deviance'> {
  const { square, weight, stretches } = sums
  const schur: Banded = { ...products, data: products.data.map((one) => -one / reading) }
  stretches.forEach((one, a) => addAt(schur, a, a, one.weight / reading + 1 / level))
  const count = stretches.length
  if (rows)
    for (let a = 0; a < rows.size; a++)
      for (let b = 0; b <= a; b++)
        addAt(schur, count + a, count + b, rows.data[a * rows.size + rows.size - 1 - (a - b)]!)
  const levelFactor = cholesky(schur)
  const rest = Float64Array.from(cross, (one, g) => (stretches[g]?.right ?? 0) - one / reading)
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
    count * Math.log(level)
  return { levels, levelFactor, deviance }
}

/** The whole of it, with the field itself. */
export function conditionLevels(field: Unlevelled, level: number): Conditioned {
  const { reading, factor, pushed, ofLevels } = field
  const given = levelsGiven(field, level)
  const solved = (half: Float64Array): Float64Array =>
    backward(
      factor,
      half.map((one) => one / reading),
    )
  const x = solved(pushed)
  const pull = ofLevels.map(solved)
  pull.forEach((z, g) => z.forEach((value, k) => (x[k]! -= value * given.levels[g]!)))
  return { ...given, x, factor, pull }
}
