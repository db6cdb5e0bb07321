import type { Grid, SparseMatrix } from './table'

/** A matrix whose unknown cells were filled where that can be told, and which cells those are. */
export interface Extended {
  values: SparseMatrix
  filled: boolean[][]
}

/** What one line through a cell tells of it: its value there, and how much that counts. */
interface Told {
  value: number
  weight: number
}

/**
 * Fills unknown cells: between known ones straight in rpm and straight in load by the distance of the breakpoints, the
 * shorter line counting more; beyond them each row and column goes on flat. A plane comes out as a plane between.
 *
 * @param known null where nothing is known
 * @returns the values, null where nothing is known at all
 * @example
 * extendCells({ rpm: [1, 2, 3], load: [1, 2] }, [[4, null, 8], [null, null, null]]).values // [[4, 6, 8], [4, 6, 8]]
 */
export function extendCells(grid: Grid, known: SparseMatrix): Extended {
  let values = known.map((cells) => [...cells])
  const filled = known.map((cells) => cells.map(() => false))
  // A cell between cells that were filled themselves is told in the next round: four corners make a plane in two.
  for (let changed = true; changed;) {
    changed = false
    const before = values
    values = before.map((cells, row) =>
      cells.map((value, column) => {
        if (value !== null) return value
        const told = [
          along(grid.rpm, column, (k) => before[row]![k]!),
          along(grid.load, row, (k) => before[k]![column]!),
        ].filter((one): one is Told => one !== null)
        if (told.length === 0) return null
        filled[row]![column] = changed = true
        const weight = told.reduce((sum, one) => sum + one.weight, 0)
        return told.reduce((sum, one) => sum + one.value * one.weight, 0) / weight
      }),
    )
  }
  return { values, filled }
}

/** A cell's value on the line through it, from the nearest known cell on either side. */
function along(points: readonly number[], at: number, value: (k: number) => number | null): Told | null {
  const reach = (step: 1 | -1): { value: number; distance: number } | null => {
    for (let k = at + step; k >= 0 && k < points.length; k += step) {
      const found = value(k)
      // Distance as a share of the axis, so that rpm and load can be weighed against each other.
      if (found !== null)
        return { value: found, distance: Math.abs(points[k]! - points[at]!) / (points.at(-1)! - points[0]!) }
    }
    return null
  }
  const [below, above] = [reach(-1), reach(1)]
  if (below && above) {
    const span = below.distance + above.distance
    return {
      value: (below.value * above.distance + above.value * below.distance) / span,
      // A line between two points is off by the bend times the product of the distances.
      weight: 1 / (below.distance * above.distance),
    }
  }
  const only = below ?? above
  return only && { value: only.value, weight: 1e-6 / only.distance }
}
