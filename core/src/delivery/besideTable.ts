import { factorFromPercent, percentFromFactor } from '../fuel/mixture'
import { build, type Matrix } from '../table/table'
import { bandAt, type Bands } from './bandValues'
import { residual, type Given } from './left'
import type { Axis } from './raster'
import { wantedCells, type Wanted, type WantedCell } from './wanted'

/** A cell that is left within this of what is wanted needs no change of its own, share. */
const CLOSE_ENOUGH = 0.01

/** What a table beside bands or a global trim is left to do. */
export interface Beside {
  /** % of fuel, on the wanted change's breakpoints; nothing where the rest is close enough */
  values: Matrix
  /** cells that need a change of their own */
  cells: number
}

/**
 * Bands so chosen that a table beside them has the fewest cells to change: each band takes the factor that brings most of its
 * use within 1 %.
 *
 * @param edges of the bands; none for one global trim
 * @returns edges chosen over the places between cells where none are given
 */
export function fewestCells(
  wanted: Wanted,
  axis: Axis,
  asked: { bands: number; edges?: readonly number[] | undefined; crossover: number },
): Bands {
  const cells = wantedCells(wanted)
  const places = wanted[axis]
  const edges = asked.edges ? [...asked.edges] : chooseEdges(cells, axis, places, asked.bands)
  const values = Array.from({ length: edges.length + 1 }, (_, band) =>
    percentFromFactor(usual(cells.filter((one) => bandAt(edges, asked.crossover, one[axis])[0] === band)).factor),
  )
  return { axis, edges, values, crossover: asked.crossover }
}

/** The factor that is close enough for most cells of some, in the middle of what it may be. */
function usual(cells: readonly WantedCell[]): { factor: number; close: number } {
  const wanted = cells.map((one) => one.factor).sort((a, b) => a - b)
  const wide = (1 + CLOSE_ENOUGH) / (1 - CLOSE_ENOUGH)
  let best = { factor: 1, close: 0 }
  for (let from = 0, to = 0; from < wanted.length; from++) {
    while (to < wanted.length && wanted[to]! <= wanted[from]! * wide) to++
    // Of equal ones that which changes least.
    const factor = Math.sqrt(wanted[from]! * wanted[to - 1]!)
    if (to - from > best.close || (to - from === best.close && Math.abs(factor - 1) < Math.abs(best.factor - 1)))
      best = { factor, close: to - from }
  }
  return best
}

function chooseEdges(cells: readonly WantedCell[], axis: Axis, places: readonly number[], bands: number): number[] {
  const closeFrom = places.map((from, i) =>
    places.map((to, j) => (j < i ? 0 : usual(cells.filter((one) => one[axis] >= from && one[axis] <= to)).close)),
  )
  let best = places.map((_, j) => ({ close: closeFrom[0]![j]!, starts: [] as number[] }))
  for (let k = 1; k < bands; k++)
    best = places.map((_, j) => {
      let most = { close: -1, starts: [] as number[] }
      for (let i = k; i <= j; i++) {
        const close = best[i - 1]!.close + closeFrom[i]![j]!
        if (close > most.close) most = { close, starts: [...best[i - 1]!.starts, i] }
      }
      return most
    })
  return best.at(-1)!.starts.map((i) => (places[i - 1]! + places[i]!) / 2)
}

/** What is left for a table beside a way, by cell. */
export function leftForTable(wanted: Wanted, given: Given): Beside {
  let cells = 0
  const values = build(wanted, (row, column) => {
    const pct = wanted.pct[row]![column]!
    if (pct === null) return 0
    const error = residual(factorFromPercent(pct), given(wanted.rpm[column]!, wanted.load[row]!))
    if (Math.abs(error) <= CLOSE_ENOUGH + 1e-9) return 0
    cells++
    return 100 * error
  })
  return { values, cells }
}
