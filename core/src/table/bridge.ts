import type { Grid, SparseMatrix } from './table'

/** A matrix whose unknown cells were filled where that can be told, and which cells those are. */
export interface Bridged {
  values: SparseMatrix
  filled: boolean[][]
}

/** What one line through a cell tells of it: its value there, and how much that counts. */
interface Told {
  value: number
  weight: number
}

/**
 * Fills unknown cells that lie between known ones, straight in rpm and straight in load by the distance of the
 * breakpoints. Where both lines tell, the shorter one counts more. A plane comes out as a plane, whatever the breakpoints.
 *
 * @param known null where nothing is known
 * @param walls cells over which no line is drawn, such as those that a closed loop holds; they stay as they are
 * @returns the values, null where a cell lies between nothing
 * @example
 * bridgeCells({ rpm: [1, 2, 3], load: [1, 2] }, [[4, null, 8], [0, null, null]]).values // [[4, 6, 8], [0, null, null]]
 */
export function bridgeCells(grid: Grid, known: SparseMatrix, walls: boolean[][] | null = null): Bridged {
  return fill(grid, known, walls, false)
}

/** The same, and beyond the known cells each row and column goes on flat. */
export function extendCells(grid: Grid, known: SparseMatrix): Bridged {
  return fill(grid, known, null, true)
}

function fill(grid: Grid, known: SparseMatrix, walls: boolean[][] | null, beyond: boolean): Bridged {
  let values = known.map((cells) => [...cells])
  const filled = known.map((cells) => cells.map(() => false))
  // A cell between cells that were filled themselves is told in the next round: four corners make a plane in two.
  for (let changed = true; changed;) {
    changed = false
    const before = values
    values = before.map((cells, row) =>
      cells.map((value, column) => {
        if (value !== null || walls?.[row]![column]) return value
        const told = [
          along(
            grid.rpm,
            column,
            (k) => before[row]![k]!,
            (k) => walls?.[row]![k] === true,
            beyond,
          ),
          along(
            grid.load,
            row,
            (k) => before[k]![column]!,
            (k) => walls?.[k]![column] === true,
            beyond,
          ),
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
function along(
  points: readonly number[],
  at: number,
  value: (k: number) => number | null,
  isWall: (k: number) => boolean,
  beyond: boolean,
): Told | null {
  const reach = (step: 1 | -1): { value: number; distance: number } | null => {
    for (let k = at + step; k >= 0 && k < points.length && !isWall(k); k += step) {
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
  return only && beyond ? { value: only.value, weight: 1e-6 / only.distance } : null
}
