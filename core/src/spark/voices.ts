import { locate } from '../table/lookup'
import type { Table } from '../table/table'
import { knockOffset } from './bin'
import type { JudgedBin } from './judge'

/** Weight below which a point is too far from a node to speak for it. */
const LEAST_WEIGHT = 0.2

export const TALKS = ['best torque', 'knock', 'no gain']

/** Shares in which a value's two breakpoints stand for it. */
function tent(breakpoints: readonly number[], value: number, index: number): number {
  const [below, fraction] = locate(breakpoints, value)
  return index === below ? 1 - fraction : index === below + 1 ? fraction : 0
}

export interface Voice {
  one: JudgedBin
  weight: number
  change: number
}

/** Points that speak for a node. */
export function nearOf(table: Table, bins: readonly JudgedBin[], row: number, column: number): Voice[] {
  return (
    bins
      // A setting of the whole engine says nothing of single cells: that is what the one knob is for.
      .filter(({ bin }) => !bin.isStatic)
      .map((one) => ({ one, weight: nearness(table, one, row, column), change: changeOf(one) }))
      .filter(({ weight }) => weight >= LEAST_WEIGHT)
  )
}

/** Degrees that are left to the first knock met near a node, less the margin; Infinity where none was. */
export const clearOf = (near: readonly Voice[], knockMargin: number): number =>
  Math.min(Infinity, ...near.map(({ one }) => knockOffset(one.bin) - one.moved)) - knockMargin

/** What a point still advises: over what was there, less what the table was moved by since. */
function changeOf({ bin, fit, moved }: JudgedBin): number {
  return (fit.recommended ?? bin.present) - bin.present - moved
}

function nearness(table: Table, { bin }: JudgedBin, row: number, column: number): number {
  const across = tent(table.rpm, bin.rpm, column)
  // Rows of manifold pressure are not told by a throttle opening: a point counts for the row of highest load only.
  const up =
    table.loadAxis === 'throttle'
      ? tent(table.load, bin.stop ?? 100, row)
      : (bin.stop ?? 100) >= 97 && row === table.load.length - 1
        ? 1
        : 0
  return across * up
}
