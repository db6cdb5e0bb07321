import { locate } from '../table/lookup'
import type { Matrix } from '../table/table'
import type { Basis } from './leastCost'
import type { Points } from './points'

/** Breakpoints of a way's own. */
export interface Places {
  rpm: readonly number[]
  load: readonly number[]
}

/**
 * Factors straight between a way's own breakpoints, as a controller interpolates them; flat beyond the outer ones. Settings are
 * its cells, row by row.
 *
 * @param fuel what each cell asks for now, `[load][rpm]` in any unit: a controller goes straight from cell to cell in fuel, not in
 * what is changed of it; the same everywhere when left out
 */
export function onBreakpoints(points: Points, { rpm, load }: Places, fuel?: Matrix): Basis {
  const across = Array.from(points.rpm, (value) => locate(rpm, value))
  const up = Array.from(points.load, (value) => locate(load, value))
  const count = points.factor.length
  const index = new Int32Array(4 * count)
  const share = new Float64Array(4 * count)
  const wide = rpm.length
  for (let k = 0, at = 0; k < count; k++) {
    const [i, right] = across[points.column[k]!]!
    const [j, above] = up[points.row[k]!]!
    const from = j * wide + i
    index[at] = from
    share[at++] = (1 - right) * (1 - above)
    index[at] = from + 1
    share[at++] = right * (1 - above)
    index[at] = from + wide
    share[at++] = (1 - right) * above
    index[at] = from + wide + 1
    share[at++] = right * above
  }
  if (fuel) weigh(index, share, fuel.flat())
  return { size: wide * load.length, width: wide + 1, wide, each: 4, index, share }
}

/** Shares of cells, each by the fuel that it asks for; where none is asked for they stay as they are. */
function weigh(index: Int32Array, share: Float64Array, fuel: readonly number[]): void {
  for (let k = 0; k < index.length; k += 4) {
    let all = 0
    for (let e = k; e < k + 4; e++) all += share[e]! * fuel[index[e]!]!
    if (all > 0) for (let e = k; e < k + 4; e++) share[e]! *= fuel[index[e]!]! / all
  }
}
