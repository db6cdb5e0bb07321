import { percentFromFactor } from '../fuel/mixture'
import { leastCost, type Basis } from './leastCost'
import { floorOf, oneFactor, type Wishes } from './oneFactor'
import type { Points } from './points'
import type { Axis } from './raster'
import type { Floor } from './solveQuadratic'
import type { WantedCell } from './wanted'

/** Bands as they are set. */
export interface Bands {
  axis: Axis
  edges: readonly number[]
  /** % of fuel, by band */
  values: readonly number[]
  crossover: number
}

/** The two bands that a place lies in, and how far it is in the upper one. */
export function bandAt(edges: readonly number[], crossover: number, x: number): [band: number, upper: number] {
  for (let k = 0; k < edges.length; k++) {
    const from = edges[k]! - crossover / 2
    if (x < from) return [k, 0]
    if (x < from + crossover) return [k, (x - from) / crossover]
  }
  return [edges.length, 0]
}

/** What is wanted at the places of some points that lie in a part of an axis. */
function betweenBands(points: Points, axis: Axis, isIn: (x: number) => boolean): Wishes {
  const inside = Array.from(points[axis], isIn)
  const at = axis === 'rpm' ? points.column : points.row
  const own = [...points.factor.keys()].filter((k) => inside[at[k]!])
  return {
    factor: own.map((k) => points.factor[k]!),
    weight: own.map((k) => points.weight[k]!),
    lean: own.map((k) => points.lean[k]!),
  }
}

/** Values of bands whose edges are given; `cells` are kept from being left lean. */
export function fitValues(
  points: Points,
  cells: readonly WantedCell[],
  axis: Axis,
  edges: readonly number[],
  crossover: number,
): { bands: Bands; cost: number } {
  const start = Float64Array.from([...edges, 0], (_, band) => startOf(points, cells, axis, edges, crossover, band))
  const floors = cells.map((cell): Floor => {
    const [band, upper] = bandAt(edges, crossover, cell[axis])
    const of: [number, number][] =
      upper > 0
        ? [
            [band, 1 - upper],
            [band + 1, upper],
          ]
        : [[band, 1]]
    return { of, least: floorOf(cell.factor) }
  })
  const { settings, cost } =
    crossover > 0
      ? leastCost(points, basisOf(points, axis, edges, crossover), start, floors)
      : { settings: start, cost: costOfSteps(points, axis, edges, start) }
  return { bands: { axis, edges: [...edges], values: Array.from(settings, percentFromFactor), crossover }, cost }
}

/** The factor of one band by the places that lie in it alone or for the better part. */
function startOf(
  points: Points,
  cells: readonly WantedCell[],
  axis: Axis,
  edges: readonly number[],
  crossover: number,
  band: number,
): number {
  const isIn = (x: number): boolean => {
    const [at, upper] = bandAt(edges, crossover, x)
    return at === band ? upper < 1 : at + 1 === band && upper > 0
  }
  const floor = Math.max(0, ...cells.filter((one) => isIn(one[axis])).map((one) => floorOf(one.factor)))
  return oneFactor(betweenBands(points, axis, isIn), floor).factor
}

function costOfSteps(points: Points, axis: Axis, edges: readonly number[], factors: Float64Array): number {
  let cost = 0
  const { factor, weight, lean } = points
  const bands = Array.from(points[axis], (x) => bandAt(edges, 0, x)[0])
  const at = axis === 'rpm' ? points.column : points.row
  for (let k = 0; k < factor.length; k++) {
    const error = factor[k]! / factors[bands[at[k]!]!]! - 1
    cost += weight[k]! * (error > 0 ? lean[k]! : 1) * error * error
  }
  return cost
}

function basisOf(points: Points, axis: Axis, edges: readonly number[], crossover: number): Basis {
  const placed = Array.from(points[axis], (x) => bandAt(edges, crossover, x))
  const at = axis === 'rpm' ? points.column : points.row
  const count = points.factor.length
  const index = new Int32Array(2 * count)
  const share = new Float64Array(2 * count)
  for (let k = 0; k < count; k++) {
    const [band, upper] = placed[at[k]!]!
    index[2 * k] = band
    index[2 * k + 1] = Math.min(edges.length, band + 1)
    share[2 * k] = 1 - upper
    share[2 * k + 1] = upper
  }
  return { size: edges.length + 1, width: Math.max(1, edges.length), wide: edges.length + 1, each: 2, index, share }
}
