import type { LoadGrid } from '../../table/table'
import { valueAt, type Placement } from '../readings/placement'
import type { Samples } from '../readings/samples'
import type { Windows } from '../readings/windows'

/** s between readings of which a rate is taken. */
const RATE_GAP = 0.5

/**
 * Share of what the engine goes on by beyond the end of a table that is a push: the last cell serves all that lies beyond it, so
 * that what is read there is partly its own.
 */
const BEYOND = 0.6

/** How a field bends, by node, ln lambda per unit of the axis squared. */
interface Bends {
  rpm: Float64Array
  load: Float64Array
}

/** Errors that all readings share, as what they push the field by: a lag of one second, bends between cells, little flow in a tube. */
export function systematic(
  grid: LoadGrid,
  p: Placement,
  { time, rpm, load, run, doubtful }: Samples,
  weight: Float32Array,
  x: Float64Array,
  bends: Bends,
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
      const [column, row] = [Math.floor(k / p.loads), k % p.loads]
      const [wide, high] = [grid.rpm[column + 1]! - grid.rpm[column]!, grid.load[row + 1]! - grid.load[row]!]
      // How the field rises over the cell, along either axis.
      const [x0, x1, x2, x3] = [x[k]!, x[k + 1]!, x[k + p.loads]!, x[k + p.loads + 1]!]
      const riseRpm = (1 - v) * (x2 - x0) + v * (x3 - x1)
      const riseLoad = (1 - u) * (x1 - x0) + u * (x3 - x2)
      let late = 0
      if (step > 0 && step < RATE_GAP) {
        late =
          -((riseRpm / wide) * (rpm[after]! - rpm[before]!) + (riseLoad / high) * (load[after]! - load[before]!)) / step
      }
      const bend =
        -0.5 *
          (u * (1 - u) * wide ** 2 * valueAt(p, bends.rpm, i) + v * (1 - v) * high ** 2 * valueAt(p, bends.load, i)) +
        BEYOND * (riseRpm * (beyond(grid.rpm, rpm[i]!) / wide) + riseLoad * (beyond(grid.load, load[i]!) / high))
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

/** How far beyond the ends of a table a reading stands: there the controller holds its last cells, the engine goes on. */
function beyond(points: readonly number[], at: number): number {
  return at - Math.min(points.at(-1)!, Math.max(points[0]!, at))
}

/**
 * How a field bends at its nodes along either axis, per unit of it squared: inside a cell, where a table can only be
 * straight, what the engine needs goes on bending. The ends of an axis bend as what is beside them.
 */
export function bendsAtNodes({ rpm, load }: LoadGrid, x: Float64Array): Bends {
  const rows = load.length
  const bend = (points: readonly number[], node: (k: number) => number, at: number): number => {
    const k = Math.min(points.length - 2, Math.max(1, at))
    if (k < 1 || points.length < 3) return 0
    const [before, after] = [points[k]! - points[k - 1]!, points[k + 1]! - points[k]!]
    const rise = (x[node(k + 1)]! - x[node(k)]!) / after - (x[node(k)]! - x[node(k - 1)]!) / before
    return (2 * rise) / (before + after)
  }
  return {
    rpm: x.map((_, k) => bend(rpm, (column) => column * rows + (k % rows), Math.floor(k / rows))),
    load: x.map((_, k) => bend(load, (row) => k - (k % rows) + row, k % rows)),
  }
}
