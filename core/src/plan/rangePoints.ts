import { rowFinder } from '../table/lookup'
import type { LoadGrid } from '../table/table'
import { stopsOf } from './candidates'
import type { RangeField } from './rangeField'
import { reachLearnt } from './reach'
import type { Wanted } from './wanted'

/** Points of the range along each side of a cell. */
const LATTICE = 3

/** kPa by which the pressure at the largest stop may be told too low. */
const CLOSE = 2

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

/**
 * Points evenly over the cells of a range, but for what a closed loop holds and what an engine does not reach; and what is not
 * reached, which is named. A point beside a held node hangs on that node's value, which no run tells.
 */
export function pointsOf(
  grid: LoadGrid,
  { rpm, load }: Wanted,
  { heldZones: zones, pressure, ever }: Pick<RangeField, 'heldZones' | 'pressure' | 'ever'>,
): { points: Point[]; unreached: { rpm: number; load: number }[] } {
  const rows = grid.load.length
  const isHeld = (row: number, at: number): boolean =>
    zones.some((zone) => zone.row === row && at >= zone.fromRpm && at <= zone.toRpm)
  const rowOf = rowFinder(grid)
  // The ends of a range are known least of it.
  const axis = (points: readonly number[], [from, to]: readonly [number, number]): number[] => [
    ...[from, to].filter((one) => one >= points[0]! && one <= points.at(-1)!),
    ...points
      .slice(1)
      .flatMap((end, k) =>
        Array.from({ length: LATTICE }, (_, n) => points[k]! + ((n + 0.5) / LATTICE) * (end - points[k]!)),
      )
      .filter((one) => one > from && one < to),
  ]
  const span = { fromRpm: rpm[0], toRpm: rpm[1] }
  const stops = stopsOf(grid, load)
  const isReached = (r: number, l: number): boolean => {
    // Between two rows the lower one tells as far as a run reaches there.
    if (grid.loadAxis === 'throttle') return r <= reachLearnt(grid.load.findLast((one) => one <= l) ?? l, span, ever)
    const least = stops.find((stop) => reachLearnt(stop, span, ever) >= r)
    return least !== undefined && l >= pressure(r, least) && l <= pressure(r, stops.at(-1)!) + CLOSE
  }
  const all = axis(grid.rpm, rpm).flatMap((r) => axis(grid.load, load).map((l) => ({ rpm: r, load: l })))
  const points = all
    .filter((one) => isReached(one.rpm, one.load))
    .filter((one) => !isHeld(rowOf(one.load), one.rpm))
    .map((one) => placeAt(grid, one.rpm, one.load))
    .filter(({ nodes }) => !nodes.some((k) => isHeld(k % rows, grid.rpm[Math.floor(k / rows)]!)))
  return { points, unreached: all.filter((one) => !isReached(one.rpm, one.load)) }
}
