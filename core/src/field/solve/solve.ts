import type { Solution } from './reweigh'
import type { Grid } from '../../table/table'
import { addAt, banded, cholesky, solveFactored, type Banded } from '../../numbers/banded'
import { dot } from '../../numbers/dot'
import { MAD_TO_SIGMA, medianAbsolute } from '../../numbers/medianAbsolute'
import { addCell, type Placement } from '../readings/placement'
import { addSmoothness, curvatures } from './smoothness'
import {
  HUBER,
  TUKEY,
  SMALLEST_SCALE,
  residualsAndWeights,
  type Weighting,
  type Cells,
  sortByCell,
  someResiduals,
} from './reweigh'

/** Strengths of the solve, relative to the mean weight of a node that has data. */
export interface SolveOptions {
  /** Smoothness along rpm and load; small, so that it fills gaps but hardly bends data. */
  alpha: number
  beta: number
  /** Pull to zero, only to keep the equations solvable where nothing is known. */
  epsilon: number
  /** Rounds of the robust start and of the redescending end. */
  startRounds: number
  endRounds: number
  /** least scale of a reading, ln lambda; that of the best gauge when left out */
  leastScale?: number
}

export const DEFAULT_SOLVE: SolveOptions = { alpha: 6e-3, beta: 1e-3, epsilon: 1e-6, startRounds: 4, endRounds: 6 }

/** Moves that end the rounds (ln lambda): the next would be a sixth of it. */
const SETTLED = 5e-5
/** Readings that the robust start is made of where there are many more. */
const START_SAMPLES = 100_000

/**
 * Robust regularised field: minimises
 * `sum w rho(y - b x) + alpha |D2_rpm x|^2 + beta |D2_load x|^2 + eps |x|^2`
 * over the table's own nodes by iteratively reweighted least squares, Huber first, then Tukey's biweight. Cost is linear
 * in samples; the equations in nodes are solved by a banded Cholesky factor.
 *
 * @param y ln(lambda / target) by sample
 * @param from solution of nearly the same samples: the solve then begins with the redescending rounds, or where there are
 *   none, with weights by its scale
 * @throws RangeError when there is no sample
 * @see Huber, Robust Estimation of a Location Parameter (1964); Tikhonov regularisation
 */
export function solveField(
  grid: Grid,
  p: Placement,
  y: Float32Array,
  options: SolveOptions = DEFAULT_SOLVE,
  from?: Pick<Solution, 'x' | 'scale'>,
): Solution {
  if (p.count === 0) throw new RangeError('No samples are left to solve from.')
  const curves = curvatures(grid)
  const size = p.columns * p.loads
  const cells = sortByCell(p, y, 1)
  // The start only has to come near: an even selection does, the end is of all readings.
  const few = p.count > 2 * START_SAMPLES ? sortByCell(p, y, Math.floor(p.count / START_SAMPLES)) : cells
  let x: Float64Array = from?.x ?? new Float64Array(size)
  let factor!: Banded
  const least = Math.max(SMALLEST_SCALE, options.leastScale ?? 0)
  let scale = from?.scale ?? 0
  const skipsStart = from !== undefined && options.endRounds > 0
  let weighting: Weighting = skipsStart
    ? { redescending: true, limit: TUKEY * scale }
    : { redescending: false, limit: from ? HUBER * scale : Infinity }
  let last = new Float64Array(size)
  const rounds = 1 + options.startRounds + options.endRounds
  for (let round = skipsStart ? options.startRounds + 1 : 0; round < rounds; round++) {
    const { normal, right } = accumulate(round <= options.startRounds ? few : cells, x, weighting)
    regularise(normal, curves, options)
    factor = cholesky(normal)
    const next = solveFactored(factor, right)
    const step = next.map((one, k) => one - x[k]!)
    const moved = step.reduce((most, one) => Math.max(most, Math.abs(one)), 0)
    x = round > options.startRounds + 1 ? extrapolated(next, step, last) : next
    last = step
    // The scale is frozen once the redescending part begins: otherwise it can chase its own weights.
    if (round <= options.startRounds) scale = Math.max(least, MAD_TO_SIGMA * medianAbsolute(someResiduals(few, x)))
    if (round > options.startRounds && moved < SETTLED) break
    const redescending = round >= options.startRounds
    weighting = { redescending, limit: (redescending ? TUKEY : HUBER) * scale }
  }
  const of = residualsAndWeights(p, y, x, weighting)
  return { x, ...of, scale: scale > SMALLEST_SCALE && scale === least ? spreadOf(of) : scale, factor }
}

/** How readings scatter by their weights: where a least scale was set, the median says less. */
function spreadOf({ residual, weight }: Pick<Solution, 'residual' | 'weight'>): number {
  let [square, total] = [0, 0]
  for (let i = 0; i < residual.length; i++) {
    square += weight[i]! * residual[i]! ** 2
    total += weight[i]!
  }
  return Math.max(SMALLEST_SCALE, Math.sqrt(square / total))
}

/** Shares of a step that the next may be for the end of both to be guessed. */
const STEADY = 0.5

/**
 * Where steps that shrink by the same share each end: weights follow residuals, and the last of it is one slow geometric
 * series.
 *
 * @see Aitken (1926) for the extrapolation
 */
function extrapolated(x: Float64Array, step: Float64Array, last: Float64Array): Float64Array {
  const share = dot(step, last) / dot(last, last)
  return share > 0 && share < STEADY ? x.map((one, k) => one + (step[k]! * share) / (1 - share)) : x
}

/**
 * Weighs the samples by their residuals from the field `x` and sums the normal equations, in one pass over the samples,
 * cell by cell.
 */
function accumulate(
  { columns, loads, start, across, up, y }: Cells,
  x: Float64Array,
  { redescending, limit }: Weighting,
): { normal: Banded; right: Float64Array } {
  const size = columns * loads
  const normal = banded(size, 2 * loads)
  const right = new Float64Array(size)
  const inverse = 1 / limit
  for (let k = 0; k < size; k++) {
    const end = start[k + 1]!
    if (start[k] === end) continue
    const x0 = x[k]!
    const x1 = x[k + 1]!
    const x2 = x[k + loads]!
    const x3 = x[k + loads + 1]!
    let s00 = 0
    let s10 = 0
    let s11 = 0
    let s20 = 0
    let s21 = 0
    let s22 = 0
    let s31 = 0
    let s32 = 0
    let s33 = 0
    let t0 = 0
    let t1 = 0
    let t2 = 0
    let t3 = 0
    for (let i = start[k]!; i < end; i++) {
      const u = across[i]!
      const v = up[i]!
      const value = y[i]!
      const b3 = u * v
      const b2 = u - b3
      const b1 = v - b3
      const b0 = 1 - u - b1
      const r = value - b0 * x0 - b1 * x1 - b2 * x2 - b3 * x3
      let w: number
      if (redescending) {
        const q = r * inverse
        const open = 1 - q * q
        if (open <= 0) continue
        w = open * open
      } else {
        const distance = r < 0 ? -r : r
        w = distance <= limit ? 1 : limit / distance
      }
      const w0 = w * b0
      const w1 = w * b1
      const w2 = w * b2
      const w3 = w * b3
      s00 += w0 * b0
      s10 += w1 * b0
      s11 += w1 * b1
      s20 += w2 * b0
      s21 += w2 * b1
      s22 += w2 * b2
      s31 += w3 * b1
      s32 += w3 * b2
      s33 += w3 * b3
      t0 += w0 * value
      t1 += w1 * value
      t2 += w2 * value
      t3 += w3 * value
    }
    // b3 b0 is b2 b1.
    addCell(normal, k, loads, [s00, s10, s11, s20, s21, s22, s21, s31, s32, s33])
    right[k]! += t0
    right[k + 1]! += t1
    right[k + loads]! += t2
    right[k + loads + 1]! += t3
  }
  return { normal, right }
}

function regularise(normal: Banded, curves: ReturnType<typeof curvatures>, options: SolveOptions): void {
  let sum = 0
  let known = 0
  for (let k = 0; k < normal.size; k++) {
    const d = normal.data[k * (normal.width + 1) + normal.width]!
    if (d > 0) {
      sum += d
      known++
    }
  }
  const unit = known ? sum / known : 1
  addSmoothness(normal, curves.rpm, options.alpha * unit)
  addSmoothness(normal, curves.load, options.beta * unit)
  for (let k = 0; k < normal.size; k++) addAt(normal, k, k, options.epsilon * unit)
}
