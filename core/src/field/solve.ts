import type { Grid } from '../table/table'
import { addAt, banded, cholesky, solveFactored, type Banded } from './banded'
import { MAD_TO_SIGMA, medianAbsolute } from './medianAbsolute'
import { valueAt, type Placement } from './placement'
import { addSmoothness, curvatures } from './smoothness'

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
}

export const DEFAULT_SOLVE: SolveOptions = { alpha: 6e-3, beta: 1e-3, epsilon: 1e-6, startRounds: 6, endRounds: 8 }

export interface Solution {
  /** ln(lambda / target) by node */
  x: Float64Array
  /** y - field, by sample */
  residual: Float32Array
  /** Robust weight by sample, 0 to 1 */
  weight: Float32Array
  /** Noise of a single sample: 1.4826 times the median absolute residual */
  scale: number
  /** Factor of the final normal matrix */
  factor: Banded
}

/** Huber (1964) constant of the start, in scales: low, so the start is near a median and one odd run in three cannot pull it. */
const HUBER = 0.6
/** Tukey's biweight constant (95 % efficiency on normal noise). */
const TUKEY = 4.685
const SMALLEST_SCALE = 1e-4
const SETTLED = 2e-5

/**
 * Robust regularised field: minimises
 * `sum w rho(y - b x) + alpha |D2_rpm x|^2 + beta |D2_load x|^2 + eps |x|^2`
 * over the table's own nodes by iteratively reweighted least squares, Huber first, then Tukey's biweight. Cost is linear
 * in samples; the equations in nodes are solved by a banded Cholesky factor.
 *
 * @param y ln(lambda / target) by sample
 * @throws RangeError when there is no sample
 * @see Huber, Robust Estimation of a Location Parameter (1964); Tikhonov regularisation
 */
export function solveField(grid: Grid, p: Placement, y: Float32Array, options: SolveOptions = DEFAULT_SOLVE): Solution {
  if (p.count === 0) throw new RangeError('No samples are left to solve from.')
  const curves = curvatures(grid)
  const residual = new Float32Array(p.count)
  const weight = new Float32Array(p.count).fill(1)
  const size = p.columns * p.loads
  let x: Float64Array = new Float64Array(size)
  let factor!: Banded
  let scale = 0
  const rounds = 1 + options.startRounds + options.endRounds
  for (let round = 0; round < rounds; round++) {
    const { normal, right } = accumulate(p, y, weight)
    regularise(normal, p, curves, options)
    factor = cholesky(normal)
    const next = solveFactored(factor, right)
    let moved = 0
    for (let k = 0; k < size; k++) moved = Math.max(moved, Math.abs(next[k]! - x[k]!))
    x = next
    for (let i = 0; i < p.count; i++) residual[i] = y[i]! - valueAt(p, x, i)
    const redescending = round >= options.startRounds
    // The scale is frozen once the redescending part begins: otherwise it can chase its own weights.
    if (round <= options.startRounds) scale = Math.max(SMALLEST_SCALE, MAD_TO_SIGMA * medianAbsolute(residual))
    if (round === rounds - 1 || (round > options.startRounds && moved < SETTLED)) break
    if (redescending) tukeyWeights(residual, weight, TUKEY * scale)
    else huberWeights(residual, weight, HUBER * scale)
  }
  return { x, residual, weight, scale, factor }
}

function huberWeights(residual: Float32Array, weight: Float32Array, limit: number): void {
  for (let i = 0; i < residual.length; i++) {
    const size = Math.abs(residual[i]!)
    weight[i] = size <= limit ? 1 : limit / size
  }
}

function tukeyWeights(residual: Float32Array, weight: Float32Array, limit: number): void {
  for (let i = 0; i < residual.length; i++) {
    const q = residual[i]! / limit
    const open = 1 - q * q
    weight[i] = open > 0 ? open * open : 0
  }
}

/** Sums the normal equations cell by cell in one pass over the samples, then spreads the cells onto the nodes. */
function accumulate(p: Placement, y: Float32Array, weight: Float32Array): { normal: Banded; right: Float64Array } {
  const size = p.columns * p.loads
  const sums = new Float64Array(size * 14)
  for (let i = 0; i < p.count; i++) {
    const w = weight[i]!
    if (w === 0) continue
    const u = p.across[i]!
    const v = p.up[i]!
    const b0 = (1 - u) * (1 - v)
    const b1 = (1 - u) * v
    const b2 = u * (1 - v)
    const b3 = u * v
    const w0 = w * b0
    const w1 = w * b1
    const w2 = w * b2
    const w3 = w * b3
    const value = y[i]!
    const o = p.node[i]! * 14
    sums[o]! += w0 * b0
    sums[o + 1]! += w1 * b0
    sums[o + 2]! += w1 * b1
    sums[o + 3]! += w2 * b0
    sums[o + 4]! += w2 * b1
    sums[o + 5]! += w2 * b2
    sums[o + 6]! += w3 * b0
    sums[o + 7]! += w3 * b1
    sums[o + 8]! += w3 * b2
    sums[o + 9]! += w3 * b3
    sums[o + 10]! += w0 * value
    sums[o + 11]! += w1 * value
    sums[o + 12]! += w2 * value
    sums[o + 13]! += w3 * value
  }
  const normal = banded(size, 2 * p.loads)
  const right = new Float64Array(size)
  const corner = [0, 1, p.loads, p.loads + 1]
  for (let k = 0; k < size; k++) {
    const o = k * 14
    let at = o
    for (let a = 0; a < 4; a++) {
      for (let b = 0; b <= a; b++, at++) if (sums[at] !== 0) addAt(normal, k + corner[a]!, k + corner[b]!, sums[at]!)
    }
    for (let a = 0; a < 4; a++) if (sums[o + 10 + a] !== 0) right[k + corner[a]!]! += sums[o + 10 + a]!
  }
  return { normal, right }
}

function regularise(normal: Banded, p: Placement, curves: ReturnType<typeof curvatures>, options: SolveOptions): void {
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
