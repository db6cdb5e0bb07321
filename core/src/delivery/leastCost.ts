import { addAt, banded, cholesky, solveFactored, type Banded } from '../numbers/banded'
import { solveQuadratic, type Floor } from './solveQuadratic'
import type { Points } from './points'

/** How the factor given at each point follows from a way's settings: the sum of a few of them, each times a share. */
export interface Basis {
  /** settings there are */
  size: number
  /** furthest apart that two settings of one point stand */
  width: number
  /** settings in a row: one that no point tells of takes the value of those beside and above it; 0 where it stays as it is */
  wide: number
  /** settings of one point */
  each: number
  /** by point, `each` at a time, rising; one with no share may stand anywhere */
  index: Int32Array
  share: Float64Array
}

/** Settings that leave the least, what they give at each point, and their cost (a mean square). */
export interface Least {
  settings: Float64Array
  given: Float64Array
  cost: number
}

const STEPS = 40
/** A step that gains less than this share of the cost is the last. */
const EXACT = 1e-10
/** What holds a setting that no point tells of: to those beside it, and hardly to what it was. */
const BESIDE = 1e-9
const HOLDS = 1e-12

/** Factors given by some settings. */
function givenBy({ each, index, share }: Basis, settings: Float64Array): Float64Array {
  const given = new Float64Array(index.length / each)
  for (let k = 0, at = 0; k < given.length; k++) {
    let sum = 0
    for (let e = 0; e < each; e++, at++) sum += share[at]! * settings[index[at]!]!
    given[k] = sum
  }
  return given
}

/** Mean square of what is left, lean counting as the points have it. */
function costOf({ factor, weight, lean }: Points, given: Float64Array): number {
  let cost = 0
  for (let k = 0; k < given.length; k++) {
    // No engine runs on nothing: such settings are out of the question.
    if (!(given[k]! > 0.01)) return Infinity
    const error = factor[k]! / given[k]! - 1
    cost += weight[k]! * (error > 0 ? lean[k]! : 1) * error * error
  }
  return cost
}

/**
 * Settings that leave the least cost: the mean over the points of m r^2, r = wanted / given - 1, m more for lean. Newton's steps
 * on a function that bends up wherever r > -1/3; floors are kept by a quadratic program at each step.
 *
 * @param start where to begin; it must keep the floors
 * @param gains a step that gains less than this share of the cost is the last
 * @returns the same for the same input
 */
export function leastCost(
  points: Points,
  basis: Basis,
  start: Float64Array,
  floors: readonly Floor[] = [],
  gains = EXACT,
): Least {
  let settings: Float64Array = Float64Array.from(start)
  let given = givenBy(basis, settings)
  let cost = costOf(points, given)
  for (let step = 0; step < STEPS; step++) {
    const toward = newtonStep(points, basis, settings, given, floors)
    let share = 1
    let next: Least | null = null
    for (; share > 1e-4; share /= 2) {
      const tried = settings.map((value, i) => value + share * toward[i]!)
      const gives = givenBy(basis, tried)
      const costs = costOf(points, gives)
      if (costs <= cost) {
        next = { settings: tried, given: gives, cost: costs }
        break
      }
    }
    if (!next) break
    const gained = cost - next.cost
    ;({ settings, given, cost } = next)
    if (gained <= gains * cost || cost < 1e-16) break
  }
  return { settings, given, cost }
}

function newtonStep(
  { factor, weight, lean }: Points,
  { size, width, wide, each, index, share }: Basis,
  settings: Float64Array,
  given: Float64Array,
  floors: readonly Floor[],
): Float64Array {
  const bend = banded(size, width)
  const { data } = bend
  const fall = new Float64Array(size)
  for (let k = 0; k < given.length; k++) {
    const ratio = factor[k]! / given[k]!
    const error = ratio - 1
    const counts = weight[k]! * (error > 0 ? lean[k]! : 1)
    const slope = -ratio / given[k]!
    // The whole second derivative where it bends up well; never less than half of what Gauss and Newton take.
    const second = counts * Math.max(slope * slope + (2 * error * ratio) / (given[k]! * given[k]!), (slope * slope) / 2)
    const first = counts * error * slope
    const from = k * each
    for (let a = 0; a < each; a++) {
      const of = share[from + a]!
      if (of === 0) continue
      const i = index[from + a]!
      fall[i]! -= first * of
      const row = i * width + width
      for (let b = 0; b <= a; b++) data[row + index[from + b]!]! += second * of * share[from + b]!
    }
  }
  for (let i = 0; i < size; i++) addAt(bend, i, i, HOLDS)
  for (let i = 0; wide > 0 && i < size; i++) {
    if ((i + 1) % wide !== 0 && i + 1 < size) holdTogether(bend, fall, settings, i, i + 1)
    if (i + wide < size) holdTogether(bend, fall, settings, i, i + wide)
  }
  return floors.length ? solveQuadratic(bend, fall, settings, floors) : solveFactored(cholesky(bend), fall)
}

/** Two settings hardly want to differ. */
function holdTogether(bend: Banded, fall: Float64Array, settings: Float64Array, i: number, j: number): void {
  addAt(bend, i, i, BESIDE)
  addAt(bend, j, j, BESIDE)
  addAt(bend, i, j, -BESIDE)
  const apart = settings[i]! - settings[j]!
  fall[i]! -= BESIDE * apart
  fall[j]! += BESIDE * apart
}
