import { fitValues } from './bandValues'
import { floorOf, oneFactor, type Wishes } from './oneFactor'
import { searchPoints, type Points } from './points'
import type { Axis } from './raster'
import { cellsUnderLoad, type Wanted } from './wanted'

/** Steps in which edges are told. */
const STEP: Record<Axis, number> = { rpm: 50, load: 1 }

/**
 * Edges between bands that leave the least cost under the rule for load.
 *
 * @returns one less than bands, rising, at least a crossover apart
 */
export function bandEdges(wanted: Wanted, axis: Axis, bands: number, crossover: number): number[] {
  const points = searchPoints(wanted)
  const first = stepEdges(wanted, points, axis, bands)
  const cells = cellsUnderLoad(wanted)
  const [low, high] = [wanted[axis][0]!, wanted[axis].at(-1)!]
  const reach = (high - low) / 8
  const apart = Math.max(crossover, STEP[axis])
  const cost = (edges: readonly number[]): number => fitValues(points, cells, axis, edges, crossover).cost
  let best = spread(first, apart, low, high)
  let least = cost(best)
  // By dynamic programming they are exact but for where between two places, and for the crossover.
  for (let moved = true; moved;) {
    moved = false
    for (let k = 0; k < best.length; k++)
      for (
        let step = roundTo(reach, STEP[axis]);
        step >= STEP[axis];
        step = Math.floor(step / STEP[axis] / 2) * STEP[axis]
      )
        for (const by of [step, -step]) {
          const tried = best.map((edge, i) => (i === k ? edge + by : edge))
          if (!isSpread(tried, apart, low, high)) continue
          const costs = cost(tried)
          if (costs < least * (1 - 1e-9)) [best, least, moved] = [tried, costs, true]
        }
  }
  return best
}

const roundTo = (value: number, step: number): number => Math.max(step, Math.round(value / step) * step)

const isSpread = (edges: readonly number[], apart: number, low: number, high: number): boolean =>
  [low, ...edges, high].every(
    (edge, k, all) => k === 0 || edge - all[k - 1]! >= (k === 1 || k === all.length - 1 ? 0 : apart) - 1e-9,
  )

/** Edges that stand too close for their crossover, put evenly. */
function spread(edges: number[], apart: number, low: number, high: number): number[] {
  if (isSpread(edges, apart, low, high)) return edges
  return edges.map((_, k) => low + ((high - low) * (k + 1)) / (edges.length + 1))
}

/** Edges of bands that follow on each other without a crossover: exact over the places of the points. */
function stepEdges(wanted: Wanted, points: Points, axis: Axis, bands: number): number[] {
  const places = Array.from(points[axis])
  const size = places.length
  const at = axis === 'rpm' ? points.column : points.row
  const order = [...points.factor.keys()].sort((a, b) => at[a]! - at[b]!)
  const sorted: Wishes = {
    factor: order.map((k) => points.factor[k]!),
    weight: order.map((k) => points.weight[k]!),
    lean: order.map((k) => points.lean[k]!),
  }
  /** index of the first point at a place or beyond */
  const from = Array.from({ length: size + 1 }, () => order.length)
  order.forEach((k, i) => (from[at[k]!] = Math.min(from[at[k]!]!, i)))
  for (let i = size - 1; i >= 0; i--) from[i] = Math.min(from[i]!, from[i + 1]!)
  const floors = places.map(() => 0)
  for (const one of cellsUnderLoad(wanted)) {
    const place = places.indexOf(one[axis])
    floors[place] = Math.max(floors[place]!, floorOf(one.factor))
  }
  const costs = places.map((_, i) => {
    let floor = 0
    return places.map((__, j) => {
      if (j < i) return Infinity
      floor = Math.max(floor, floors[j]!)
      return oneFactor(sorted, floor, from[i], from[j + 1]).cost
    })
  })
  let best = places.map((_, j) => costs[0]![j]!)
  const before: number[][] = []
  for (let k = 1; k < bands; k++) {
    const last: number[] = []
    best = places.map((_, j) => {
      let [least, first] = [Infinity, -1]
      for (let i = k; i <= j; i++) {
        const cost = best[i - 1]! + costs[i]![j]!
        if (cost < least) [least, first] = [cost, i]
      }
      last.push(first)
      return least
    })
    before.push(last)
  }
  const edges: number[] = []
  for (let k = before.length - 1, j = size - 1; k >= 0; k--) {
    const first = before[k]![j]!
    edges.unshift(roundBetween(places[first - 1]!, places[first]!, STEP[axis]))
    j = first - 1
  }
  return edges
}

/** A round figure between two places, where there is one. */
function roundBetween(below: number, above: number, step: number): number {
  const middle = Math.round((below + above) / 2 / step) * step
  return middle > below && middle <= above ? middle : (below + above) / 2
}
