import type { HeldZone } from '../field/heldZones'
import { rowFinder } from '../table/lookup'
import type { LoadGrid } from '../table/table'
import type { Wanted } from './nextRun'
import { reachOf } from './reach'

/** Points of the range along each side of a cell. */
const LATTICE = 3
/** Openings between which the reach grows to the whole of the range. */
const SHORT_STOPS = [5, 10, 20]

/** A place on the grid: its four nodes, numbered rpm-major, and their shares in it. */
export interface Point {
  rpm: number
  load: number
  nodes: number[]
  shares: number[]
}

/** A place on the grid as nodes and shares, held at its ends. */
export function placeAt(grid: LoadGrid, rpm: number, load: number): Point {
  const cell = (axis: readonly number[], value: number): [k: number, share: number] => {
    const k = Math.max(
      0,
      Math.min(
        axis.length - 2,
        axis.findLastIndex((one) => one <= value),
      ),
    )
    return [k, Math.min(1, Math.max(0, (value - axis[k]!) / (axis[k + 1]! - axis[k]!)))]
  }
  const [column, u] = cell(grid.rpm, rpm)
  const [row, v] = cell(grid.load, load)
  const rows = grid.load.length
  const k = column * rows + row
  return {
    rpm,
    load,
    nodes: [k, k + 1, k + rows, k + rows + 1],
    shares: [(1 - u) * (1 - v), (1 - u) * v, u * (1 - v), u * v],
  }
}

/** Points evenly over the cells of a range, but for what a closed loop holds and what an engine does not reach. */
export function pointsOf(grid: LoadGrid, { rpm, load }: Wanted, zones: readonly HeldZone[]): Point[] {
  const rowOf = rowFinder(grid)
  const axis = (points: readonly number[], [from, to]: readonly [number, number]): number[] =>
    points
      .slice(1)
      .flatMap((end, k) =>
        Array.from({ length: LATTICE }, (_, n) => points[k]! + ((n + 0.5) / LATTICE) * (end - points[k]!)),
      )
      .filter((one) => one >= from && one <= to)
  const span = { fromRpm: rpm[0], toRpm: rpm[1] }
  return axis(grid.rpm, rpm).flatMap((r) =>
    axis(grid.load, load)
      .filter((l) => grid.loadAxis === 'manifold' || r <= reachAt(l, span))
      .filter((l) => !zones.some((zone) => zone.row === rowOf(l) && r >= zone.fromRpm && r <= zone.toRpm))
      .map((l) => placeAt(grid, r, l)),
  )
}

/** Reach of any opening: straight between small ones, which do not rev out, and those that do. */
function reachAt(load: number, span: { fromRpm: number; toRpm: number }): number {
  const above = SHORT_STOPS.findIndex((stop) => stop >= load)
  if (above < 0) return span.toRpm
  if (above === 0) return reachOf(load, span)
  const [low, high] = [SHORT_STOPS[above - 1]!, SHORT_STOPS[above]!]
  const share = (load - low) / (high - low)
  return reachOf(low, span) + share * (reachOf(high, span) - reachOf(low, span))
}
