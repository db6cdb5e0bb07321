import type { LoadGrid } from '../table/table'
import { valueAt, type Placement } from './placement'
import type { Samples } from './samples'
import type { Windows } from './windows'

/** What a field bends by within one cell, as the factor of u (1 - u), ln lambda; a deviation. */
const USUAL_BEND = 0.03
/** s between readings of which a rate is taken. */
const RATE_GAP = 0.5

/** Errors that all readings share, as what they push the field by: a lag of one second, bends between cells, little flow in a tube. */
export function systematic(
  grid: LoadGrid,
  p: Placement,
  { time, rpm, load, run, doubtful }: Samples,
  weight: Float32Array,
  x: Float64Array,
  bends: { rpm: Float64Array; load: Float64Array },
  { windows, share }: Windows,
): { lag: Float64Array; bend: Float64Array; tube: Float64Array } {
  const size = p.columns * p.loads
  const out = { lag: new Float64Array(size), bend: new Float64Array(size), tube: new Float64Array(size) }
  for (const [from, to] of windows)
    for (let i = from; i < to; i++) {
      const w = weight[i]! / share
      if (w === 0) continue
      const k = p.node[i]!
      const [u, v] = [p.across[i]!, p.up[i]!]
      const [before, after] = [i > 0 && run[i - 1] === run[i] ? i - 1 : i, run[i + 1] === run[i] ? i + 1 : i]
      const step = time[after]! - time[before]!
      let late = 0
      if (step > 0 && step < RATE_GAP) {
        const [column, row] = [Math.floor(k / p.loads), k % p.loads]
        const alongRpm =
          ((1 - v) * (x[k + p.loads]! - x[k]!) + v * (x[k + p.loads + 1]! - x[k + 1]!)) /
          (grid.rpm[column + 1]! - grid.rpm[column]!)
        const alongLoad =
          ((1 - u) * (x[k + 1]! - x[k]!) + u * (x[k + p.loads + 1]! - x[k + p.loads]!)) /
          (grid.load[row + 1]! - grid.load[row]!)
        late = -(alongRpm * (rpm[after]! - rpm[before]!) + alongLoad * (load[after]! - load[before]!)) / step
      }
      const bend = u * (1 - u) * bends.rpm[k]! - 0.5 * v * (1 - v) * ((1 - v) * bends.load[k]! + v * bends.load[k + 1]!)
      const tube = doubtful?.[i] ? 1 : 0
      for (let j = 0; j < 4; j++) {
        const node = k + (j & 1) + (j & 2 ? p.loads : 0)
        const wb = w * (j & 2 ? u : 1 - u) * (j & 1 ? v : 1 - v)
        out.lag[node]! += wb * late
        out.bend[node]! += wb * bend
        out.tube[node]! += wb * tube
      }
    }
  return out
}

/**
 * How the readings bend along rpm inside each cell, where a table can only be straight: the part of their departures that
 * goes as u (1 - u), less what chance would make of it.
 */
export function bendsWithin(
  p: Placement,
  y: Float32Array,
  weight: Float32Array,
  stretch: Uint16Array,
  { x, levels }: { x: Float64Array; levels: Float64Array },
  { windows }: Windows,
): Float64Array {
  const size = p.columns * p.loads
  const [mass, bow, bow2, off, off2, both] = Array.from({ length: 6 }, () => new Float64Array(size)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ]
  for (const [from, to] of windows)
    for (let i = from; i < to; i++) {
      const w = weight[i]!
      const k = p.node[i]!
      const q = p.across[i]! * (1 - p.across[i]!)
      const r = y[i]! - valueAt(p, x, i) - levels[stretch[i]!]!
      mass[k]! += w
      bow[k]! += w * q
      bow2[k]! += w * q * q
      off[k]! += w * r
      off2[k]! += w * r * r
      both[k]! += w * q * r
    }
  return mass.map((m, k) => {
    const spread = bow2[k]! - bow[k]! ** 2 / m
    if (!(m > 4 && spread > 0)) return 0
    const noise = (off2[k]! - off[k]! ** 2 / m) / (m - 2)
    // Readings at one speed say nothing of a bend: it is held to what bends usually are.
    const bend = (both[k]! - (bow[k]! * off[k]!) / m) / (spread + noise / USUAL_BEND ** 2)
    const chance = noise / (spread + noise / USUAL_BEND ** 2)
    return bend ** 2 > chance ? bend * (1 - chance / bend ** 2) : 0
  })
}

/** Second differences of a field at its nodes along load, per cell; 0 at the ends. */
export function secondDifferences(p: Placement, x: Float64Array): Float64Array {
  return x.map((here, k) => {
    const row = k % p.loads
    return row > 0 && row < p.loads - 1 ? x[k - 1]! - 2 * here + x[k + 1]! : 0
  })
}
