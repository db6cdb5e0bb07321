import { locate } from '../table/lookup'
import type { Place2 } from '../numbers/smoothSurface'
import type { Table } from '../table/table'
import type { JudgedBin } from './judge'

/** Weight below which a point is too far from a cell to speak for it. */
const LEAST_WEIGHT = 0.2
/** % of plate from which an opening is the highest load. */
const WIDE_OPEN = 97

/**
 * Where a point stands on a table's axes, rpm and load; null where it has no place. Rows of manifold pressure are not told by a
 * throttle opening: a point counts at the highest load only.
 */
export function placeIn(table: Table, { bin }: JudgedBin): Place2 | null {
  const stop = bin.stop ?? 100
  if (table.loadAxis === 'throttle') return [bin.rpm, stop]
  return stop >= WIDE_OPEN ? [bin.rpm, table.load.at(-1)!] : null
}

/** Shares in which a value's two breakpoints stand for it. */
function tent(breakpoints: readonly number[], value: number, index: number): number {
  const [below, fraction] = locate(breakpoints, value)
  return index === below ? 1 - fraction : index === below + 1 ? fraction : 0
}

/** Points that were measured at a cell or beside it. */
export function nearOf(
  table: Table,
  bins: readonly JudgedBin[],
  row: number,
  column: number,
): { one: JudgedBin; weight: number }[] {
  return (
    bins
      // A setting of the whole engine says nothing of single cells: that is what the one knob is for.
      .filter(({ bin }) => !bin.isStatic)
      .flatMap((one) => {
        const at = placeIn(table, one)
        const weight = at ? tent(table.rpm, at[0], column) * tent(table.load, at[1], row) : 0
        return weight >= LEAST_WEIGHT ? [{ one, weight }] : []
      })
  )
}
