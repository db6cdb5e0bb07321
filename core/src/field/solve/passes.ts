import { selectedInverse } from '../../numbers/selectedInverse'
import type { Conditioned } from './conditioned'
import type { NodeSums } from './nodeSums'
import { valueAt, type Placement } from '../readings/placement'
import type { Windows } from '../readings/windows'

/** How far passes through one cell are off the field, and how many are free to tell. */
export interface Passes {
  /** of one independent reading */
  variance: number
  freedom: number
}

/** Before any pass is seen, the mean of one pass through one cell is taken to be this far off (ln lambda); and that counts as so many passes. */
const USUAL_PASS = { deviation: 0.006, worth: 4 }

/**
 * Variance of one independent reading. Readings of one pass through one cell err together: their sum scatters more than their own
 * scatter would make it. This is the variance that independent readings would need for sums that wide.
 *
 * A pass lasts for the width of a cell from where it began, and does not end at a border. At a throttle stop that is a
 * breakpoint, readings fall now into the cell below, now into the one above: they are one pass all the same.
 *
 * @param used how many passes the field itself takes up
 */
export function passesThroughCells(
  p: Placement,
  y: Float32Array,
  weight: Float32Array,
  stretch: Uint16Array,
  { x, levels }: Conditioned,
  used: number,
  { windows, share }: Windows,
): Passes {
  let [sum, mass, total, masses, passes] = [0, 0, 0, 0, 0]
  let begun = 0
  const isAway = (i: number): boolean => {
    const [cell, at] = [p.node[begun]!, p.node[i]!]
    if (cell === at) return false
    const columns = Math.floor(at / p.loads) - Math.floor(cell / p.loads)
    const rows = (at % p.loads) - (cell % p.loads)
    return Math.abs(columns + p.across[i]! - p.across[begun]!) >= 1 || Math.abs(rows + p.up[i]! - p.up[begun]!) >= 1
  }
  const close = (): void => {
    if (mass > 0) {
      total += (sum * sum) / mass
      masses += mass
      passes++
    }
    ;[sum, mass] = [0, 0]
  }
  for (const [from, to] of windows) {
    for (let i = from; i < to; i++) {
      if (i > from && (stretch[i] !== stretch[begun] || isAway(i))) close()
      if (mass === 0) begun = i
      const w = weight[i]!
      sum += w * (y[i]! - valueAt(p, x, i) - levels[stretch[i]!]!)
      mass += w
    }
    close()
  }
  const { deviation, worth } = USUAL_PASS
  const usual = passes ? (deviation ** 2 * masses) / passes : deviation ** 2
  const freedom = worth + Math.max(0, passes / share - used)
  return { variance: (total + worth * usual) / freedom, freedom }
}

/** How many free values the readings settled: the trace of the smoother. */
export function fitted({ normal }: NodeSums, { factor }: Conditioned, reading: number): number {
  const inverse = selectedInverse(factor)
  const stride = normal.width + 1
  let trace = 0
  for (let k = 0; k < normal.data.length; k++)
    trace += (k % stride === normal.width ? 1 : 2) * normal.data[k]! * inverse.data[k]!
  return trace / reading
}
