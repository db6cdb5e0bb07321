import type { CylinderField, Field } from '../field/field'
import { isMisfire } from '../field/faults/misfires'
import { NINETY } from '../numbers/ninety'

/** How far a field is off over its range, not only at its cells: points evenly inside the cells' squares. */
export interface RangeFlatness {
  /** points that are known, over all cylinders */
  points: number
  /** RMS of what is left there, and of that with its doubt, % of fuel; NaN without a point */
  rms: number
  expected: number
  /** share of the range between the outermost known cells of which nothing is known, %; what a loop holds is not counted */
  unknownPct: number
}

/** Points of a square along each side. */
const LATTICE = 3

/** Flatness over the range that readings reach: between cells, too, each point weighed by the area it stands for. */
export function rangeFlatness(field: Field): RangeFlatness {
  const { rpm, load } = field.grid
  let [points, square, doubt, area, unknown, whole] = [0, 0, 0, 0, 0, 0]
  for (const one of field.cylinders) {
    const state = (row: number, column: number) => stateOf(field, one, row, column)
    const known = load.flatMap((_, row) =>
      rpm.flatMap((_rpm, column) => (state(row, column) === 'known' ? [[row, column] as const] : [])),
    )
    if (known.length === 0) continue
    const [rows, columns] = [known.map(([row]) => row), known.map(([, column]) => column)]
    for (let row = Math.min(...rows); row < Math.max(...rows); row++)
      for (let column = Math.min(...columns); column < Math.max(...columns); column++) {
        const corners = [
          [row, column],
          [row, column + 1],
          [row + 1, column],
          [row + 1, column + 1],
        ] as const
        const states = corners.map(([r, c]) => state(r, c))
        if (states.includes('left alone')) continue
        const here = (rpm[column + 1]! - rpm[column]!) * (load[row + 1]! - load[row]!)
        whole += here
        if (states.includes('unknown')) {
          unknown += here
          continue
        }
        const pct = corners.map(([r, c]) => one.changePct[r]![c]!)
        const half = corners.map(([r, c]) => (one.highPct[r]![c]! - one.lowPct[r]![c]!) / 2)
        const share = here / LATTICE ** 2
        for (const [u, v] of PLACES) {
          const at = (values: readonly number[]): number =>
            (1 - v) * ((1 - u) * values[0]! + u * values[1]!) + v * ((1 - u) * values[2]! + u * values[3]!)
          points++
          area += share
          square += share * at(pct) ** 2
          doubt += share * (at(half) / NINETY) ** 2
        }
      }
  }
  return {
    points,
    rms: Math.sqrt(square / area),
    expected: Math.sqrt((square + doubt) / area),
    unknownPct: whole ? (100 * unknown) / whole : 100,
  }
}

const STEPS = Array.from({ length: LATTICE }, (_, k) => (k + 0.5) / LATTICE)
const PLACES = STEPS.flatMap((u) => STEPS.map((v) => [u, v] as const))

/** What a cell says of the range: its mixture, nothing, or that fuel would not help there. */
function stateOf(field: Field, one: CylinderField, row: number, column: number): 'known' | 'left alone' | 'unknown' {
  const isHeld = one.held[row]![column]! && !one.byTrim[row]![column]
  if (isHeld || isMisfire(field.misfires, field.grid, one.cylinder, row, column)) return 'left alone'
  return one.evidence[row]![column] === 'none' || one.changePct[row]![column] === null ? 'unknown' : 'known'
}
