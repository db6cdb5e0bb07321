import { scaleLinear, type ScaleLinear } from 'd3'
import type { Grid } from '@yuzumix/core'

/** Left and right of every chart on the ruler, px: room for the load labels, and for the last node. */
export const RULER_MARGIN = { left: 58, right: 10 }

export type RulerScale = ScaleLinear<number, number>

/**
 * The one rpm ruler: the table's range and half a step around it, over the width of the stack.
 *
 * @param highest rpm that must lie on it, where runs go beyond the table
 */
export function rulerScale(grid: Grid, width: number, highest = 0): RulerScale {
  const { rpm } = grid
  const n = rpm.length
  const end = rpm[n - 1]! + (rpm[n - 1]! - rpm[n - 2]!) / 2
  return scaleLinear()
    .domain([rpm[0]! - (rpm[1]! - rpm[0]!) / 2, Math.max(end, highest)])
    .range([RULER_MARGIN.left, Math.max(RULER_MARGIN.left + 50, width - RULER_MARGIN.right)])
}

/** Room a node has on the ruler, px: the narrowest gap between two rpm breakpoints. */
export function nodeRoom(grid: Grid, x: RulerScale): number {
  let least = Infinity
  for (let k = 1; k < grid.rpm.length; k++) least = Math.min(least, x(grid.rpm[k]!) - x(grid.rpm[k - 1]!))
  return least
}
