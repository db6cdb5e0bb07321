import { beside } from '../table/beside'
import type { SparseMatrix } from '../table/table'

/**
 * Lets a change run out over the cells beside it, instead of ending at a cliff. Cells of which nothing is known follow their
 * changed neighbours, by as little as leaves no step larger than `step` between two cells.
 *
 * @param changes % by cell, `[load][rpm]`; null where a cell is free to follow
 * @param walls cells that stay as they are and pull nothing along, such as those that a closed loop holds
 * @param step %; 0 for no taper
 * @returns % for the free cells, null for the others and for those with nothing to follow
 * @example
 * taperChanges([[10, null, null, null]], [[false, false, false, false]], 4) // [[null, 6, 2, null]]
 */
export function taperChanges(changes: SparseMatrix, walls: boolean[][], step: number): SparseMatrix {
  const isOpen = (row: number, column: number): boolean => changes[row]?.[column] !== undefined && !walls[row]![column]
  // A known change is a lower and an upper bound for the cells about it. Each cell on the way loosens both by one step.
  const spread = (way: 1 | -1): number[][] => {
    let bound = changes.map((cells) => cells.map((one) => (one === null ? -Infinity : way * one)))
    for (let moved = step > 0; moved;) {
      moved = false
      const before = bound
      bound = before.map((cells, row) =>
        cells.map((value, column) => {
          if (changes[row]![column] !== null || !isOpen(row, column)) return value
          const most = Math.max(
            value,
            ...beside([row, column]).flatMap(([r, c]) => (isOpen(r, c) ? [before[r]![c]! - step] : [])),
          )
          if (most > value) moved = true
          return most
        }),
      )
    }
    return bound
  }
  const [low, high] = [spread(1), spread(-1).map((cells) => cells.map((one) => -one))]
  return changes.map((cells, row) =>
    cells.map((known, column) => {
      if (known !== null || walls[row]![column]) return null
      const [least, most] = [low[row]![column]!, high[row]![column]!]
      const value = least > most ? (least + most) / 2 : Math.min(most, Math.max(least, 0))
      return value === 0 ? null : value
    }),
  )
}
