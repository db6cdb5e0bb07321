import type { Banded } from '../../numbers/banded'
import type { Placement } from '../readings/placement'

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
export const HUBER = 0.6

/** Tukey's biweight constant (95 % efficiency on normal noise). */
export const TUKEY = 4.685

/** A gauge is never better than this (ln lambda, about 0.4 %): readings that agree by luck must not make their neighbours outliers. */
export const SMALLEST_SCALE = 4e-3

export function residualsAndWeights(
  { count, loads, node, across, up }: Placement,
  y: Float32Array,
  x: Float64Array,
  { redescending, limit }: Weighting,
): Pick<Solution, 'residual' | 'weight'> {
  const residual = new Float32Array(count)
  const weight = new Float32Array(count)
  const inverse = 1 / limit
  for (let i = 0; i < count; i++) {
    const k = node[i]!
    const v = up[i]!
    const left = x[k]! + v * (x[k + 1]! - x[k]!)
    const right = x[k + loads]! + v * (x[k + loads + 1]! - x[k + loads]!)
    const r = y[i]! - left - across[i]! * (right - left)
    residual[i] = r
    const q = r * inverse
    const open = 1 - q * q
    weight[i] = open > 0 ? open * open : 0
  }
  if (!redescending) for (let i = 0; i < count; i++) weight[i] = Math.min(1, limit / Math.abs(residual[i]!))
  return { residual, weight }
}

/** How a residual is turned into a weight: Tukey's biweight where it redescends, else Huber's. */
export interface Weighting {
  redescending: boolean
  limit: number
}

/** Samples sorted by the cell they stand in, so that a cell's sums stay in registers while its samples pass. */
export interface Cells {
  columns: number
  loads: number
  /** where each cell's samples begin; one more entry than cells */
  start: Uint32Array
  across: Float32Array
  up: Float32Array
  y: Float32Array
}

/** Every n-th sample, by cell. */
export function sortByCell(p: Placement, y: Float32Array, stride: number): Cells {
  const { node } = p
  const size = p.columns * p.loads
  const count = Math.ceil(p.count / stride)
  const start = new Uint32Array(size + 1)
  for (let i = 0; i < p.count; i += stride) start[node[i]! + 1]!++
  for (let k = 0; k < size; k++) start[k + 1]! += start[k]!
  const at = start.slice()
  const across = new Float32Array(count)
  const up = new Float32Array(count)
  const sorted = new Float32Array(count)
  for (let i = 0; i < p.count; i += stride) {
    const to = at[node[i]!]!++
    across[to] = p.across[i]!
    up[to] = p.up[i]!
    sorted[to] = y[i]!
  }
  return { columns: p.columns, loads: p.loads, start, across, up, y: sorted }
}

/** Samples whose residuals give the scale; an even selection of more. */
const MOST_RESIDUALS = 65536

export function someResiduals({ start, loads, across, up, y }: Cells, x: Float64Array): Float32Array {
  const stride = Math.max(1, Math.floor(y.length / MOST_RESIDUALS))
  const out = new Float32Array(Math.ceil(y.length / stride))
  let k = 0
  for (let i = 0, o = 0; i < y.length; i += stride, o++) {
    while (start[k + 1]! <= i) k++
    const left = x[k]! + up[i]! * (x[k + 1]! - x[k]!)
    const right = x[k + loads]! + up[i]! * (x[k + loads + 1]! - x[k + loads]!)
    out[o] = y[i]! - left - across[i]! * (right - left)
  }
  return out
}
