import { addAt, banded, type Banded } from '../../numbers/banded'
import type { LoadGrid } from '../../table/table'

/** How smooth a field is taken to be, in ln lambda: strengths of its bends and slopes, as precisions. */
export interface Smoothness {
  /** of the bend along rpm and along load, per unit of each axis */
  rpm: number
  load: number
  /** of how a bend changes along load; 0 where it may begin and end anywhere */
  third: number
  /** of the bend along load that all speeds share */
  shared: number
}

/** Distance over which a slope is remembered, in the units of the axes: beyond it a field goes on level. */
const REMEMBERED = { rpm: 2, load: 2 }
/** Deviation of the level of a whole field from its target (ln lambda) before anything is measured. */
const LEVEL = 0.15

/** rpm in thousands. */
const rpmScale = (rpm: readonly number[]): number[] => rpm.map((one) => one / 1000)
/** Load on an axis along which an engine changes evenly: the root of the opening of a plate; pressure as it is. 0 to about 4. */
export const loadScale = ({ load, loadAxis }: LoadGrid): number[] =>
  load.map((one) => (loadAxis === 'throttle' ? 4 * Math.sqrt(Math.max(0, one) / 100) : one / 25))

/** The precision of a field before anything is measured, by what it comes from, each at strength 1: bends with slopes, changes of bends, and its level. */
interface PriorParts {
  rpm: Banded
  load: Banded
  third: Banded
  level: Banded
}

/** By grid, which never changes: the search for the scales asks for the same parts at other strengths. */
const parts = new WeakMap<LoadGrid, PriorParts>()

/**
 * Precision of a field before anything is measured: bends and slopes along both axes, and how bends change along load,
 * squared and summed over the table's area, so that breakpoints may lie anywhere, and a weak pull of the whole level to zero.
 */
export function priorPrecision(grid: LoadGrid, { rpm, load, third }: Omit<Smoothness, 'shared'>): Banded {
  const known = parts.get(grid) ?? partsOf(grid)
  parts.set(grid, known)
  const precision = banded(known.level.size, known.level.width)
  for (let k = 0; k < precision.data.length; k++)
    precision.data[k] =
      rpm * known.rpm.data[k]! + load * known.load.data[k]! + third * known.third.data[k]! + known.level.data[k]!
  return precision
}

function partsOf(grid: LoadGrid): PriorParts {
  const [r, l] = [rpmScale(grid.rpm), loadScale(grid)]
  const [rows, columns] = [l.length, r.length]
  const [areaR, areaL] = [spans(r), spans(l)]
  const total = (r.at(-1)! - r[0]!) * (l.at(-1)! - l[0]!)
  const empty = (): Banded => banded(columns * rows, 2 * rows)
  const made: PriorParts = { rpm: empty(), load: empty(), third: empty(), level: empty() }
  for (let row = 0; row < rows; row++) alongAxis(made.rpm, r, areaL[row]!, 1, REMEMBERED.rpm, (k) => k * rows + row)
  for (let column = 0; column < columns; column++) {
    const node = (k: number): number => column * rows + k
    alongAxis(made.load, l, areaR[column]!, 1, REMEMBERED.load, node)
    changesOfBend(made.third, l, areaR[column]!, node)
  }
  for (let column = 0; column < columns; column++)
    for (let row = 0; row < rows; row++)
      addAt(made.level, column * rows + row, column * rows + row, (areaR[column]! * areaL[row]!) / (LEVEL ** 2 * total))
  return made
}

/** Speed range, thousands of rpm, over which a bend that all speeds share counts: as if it were seen there alone. */
const SHARED_OVER = 1

/**
 * A part of the field that hangs on load alone: an engine that needs more at one opening often does so at all speeds, and
 * squared at each of them such a bend would count many times over, so that levels of runs were believed instead.
 *
 * @returns its precision, by row of the table
 */
export function sharedPrecision(grid: LoadGrid, { shared }: Pick<Smoothness, 'shared'>): Banded {
  const l = loadScale(grid)
  const precision = banded(l.length, Math.min(2, l.length - 1))
  alongAxis(precision, l, SHARED_OVER, shared, REMEMBERED.load, (k) => k)
  const areaL = spans(l)
  const total = l.at(-1)! - l[0]!
  for (let row = 0; row < l.length; row++) addAt(precision, row, row, areaL[row]! / (LEVEL ** 2 * total))
  return precision
}

function addAll(to: Banded, nodes: readonly number[], weights: readonly number[], strength: number): void {
  for (let a = 0; a < nodes.length; a++)
    for (let b = 0; b <= a; b++) addAt(to, nodes[a]!, nodes[b]!, strength * weights[a]! * weights[b]!)
}

/** Bends and slopes along one axis, whose points stand at the nodes given. */
function alongAxis(
  to: Banded,
  points: readonly number[],
  across: number,
  strength: number,
  remembered: number,
  node: (k: number) => number,
): void {
  for (let k = 0; k + 1 < points.length; k++) {
    const step = points[k + 1]! - points[k]!
    addAll(to, [node(k), node(k + 1)], [-1 / step, 1 / step], (strength * step * across) / remembered ** 2)
  }
  for (let k = 1; k + 1 < points.length; k++) {
    const { mean, weights } = bendAt(points, k)
    addAll(to, [node(k - 1), node(k), node(k + 1)], weights, strength * mean * across)
  }
}

/** The bend at a point between two others, as weights of the three, and how much of the axis it stands for. */
function bendAt(points: readonly number[], k: number): { weights: [number, number, number]; mean: number } {
  const [before, after] = [points[k]! - points[k - 1]!, points[k + 1]! - points[k]!]
  const mean = (before + after) / 2
  return { mean, weights: [1 / (before * mean), -(1 / before + 1 / after) / mean, 1 / (after * mean)] }
}

/** How bends change from point to point along one axis, at strength 1. */
function changesOfBend(to: Banded, points: readonly number[], across: number, node: (k: number) => number): void {
  for (let k = 1; k + 2 < points.length; k++) {
    const step = points[k + 1]! - points[k]!
    const [{ weights: here }, { weights: next }] = [bendAt(points, k), bendAt(points, k + 1)]
    const change = [-here[0], next[0] - here[1], next[1] - here[2], next[2]].map((one) => one / step)
    addAll(to, [node(k - 1), node(k), node(k + 1), node(k + 2)], change, step * across)
  }
}

/** Length of the axis that each point stands for. */
function spans(points: readonly number[]): number[] {
  return points.map((_, k) => ((points[k + 1] ?? points[k]!) - (points[k - 1] ?? points[k]!)) / 2)
}
