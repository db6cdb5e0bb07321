import { studentTail } from './studentT'

/** y = a + b u + c u², u = x - centre, fitted to readings. */
export interface Parabola {
  centre: number
  a: number
  b: number
  c: number
  /** of a, b and c */
  covariance: number[][]
  /** standard deviation of one reading about the curve */
  spread: number
  df: number
}

/** Readings further off than so many spreads count for less (Huber). */
const HUBER = 2
const ROUNDS = 8
/** Readings are never taken to repeat better than this share. */
const LEAST_SPREAD = 0.001
/** Chance below which a curve is taken to be bent. */
const BENT = 0.05

/**
 * Least squares of a parabola with Huber weights.
 *
 * @param points four or more, at three or more places
 */
export function fitParabola(points: readonly { x: number; y: number }[]): Parabola {
  const centre = points.reduce((sum, one) => sum + one.x, 0) / points.length
  const rows = points.map(({ x, y }) => ({ x: [1, x - centre, (x - centre) ** 2], y }))
  let weights = rows.map(() => 1)
  let beta = [0, 0, 0]
  let inverse: number[][] = []
  const df = Math.max(1, rows.length - 3)
  let spread = 0
  for (let round = 0; round < ROUNDS; round++) {
    const { normal, right } = normalEquations(rows, weights)
    inverse = inverse3(normal)
    beta = times(inverse, right)
    const residuals = rows.map((row) => row.y - dot(row.x, beta))
    const least = LEAST_SPREAD * Math.abs(beta[0]!)
    spread = Math.max(least, Math.sqrt(residuals.reduce((sum, one, k) => sum + weights[k]! * one * one, 0) / df))
    weights = residuals.map((one) => (Math.abs(one) > HUBER * spread ? (HUBER * spread) / Math.abs(one) : 1))
  }
  const [a, b, c] = beta as [number, number, number]
  const covariance = inverse.map((line) => line.map((value) => value * spread * spread))
  return { centre, a, b, c, covariance, spread, df }
}

/**
 * Plain least squares y = a + b x + c x².
 *
 * @param points three or more, at three or more places
 * @returns the residual variance and the inverse of the normal matrix: their product is the covariance
 * @example
 * leastSquaresParabola([{ x: 0, y: 1 }, { x: 1, y: 2 }, { x: 2, y: 5 }]).coefficients // [1, 0, 1]
 */
export function leastSquaresParabola(points: readonly { x: number; y: number }[]): {
  coefficients: [number, number, number]
  residual: number
  inverse: number[][]
} {
  const rows = points.map(({ x, y }) => ({ x: [1, x, x * x], y }))
  const { normal, right } = normalEquations(
    rows,
    rows.map(() => 1),
  )
  const inverse = inverse3(normal)
  const coefficients = times(inverse, right) as [number, number, number]
  const squares = rows.reduce((sum, { x, y }) => sum + (y - dot(x, coefficients)) ** 2, 0)
  return { coefficients, residual: squares / Math.max(1, points.length - 3), inverse }
}

const dot = (a: readonly number[], b: readonly number[]): number => a.reduce((sum, value, i) => sum + value * b[i]!, 0)
const times = (m: readonly number[][], v: readonly number[]): number[] => m.map((line) => dot(line, v))

function normalEquations(
  rows: readonly { x: number[]; y: number }[],
  weights: readonly number[],
): { normal: number[][]; right: number[] } {
  const summed = (of: (row: { x: number[]; y: number }) => number): number =>
    rows.reduce((sum, row, k) => sum + weights[k]! * of(row), 0)
  return {
    normal: [0, 1, 2].map((i) => [0, 1, 2].map((j) => summed((row) => row.x[i]! * row.x[j]!))),
    right: [0, 1, 2].map((i) => summed((row) => row.x[i]! * row.y)),
  }
}

/** Whether it bends downward beyond chance. */
export function isBentDown({ c, covariance, df }: Parabola): boolean {
  return c < 0 && studentTail(c / Math.sqrt(covariance[2]![2]!), df) < BENT
}

/** Value of a parabola at `x`, in the unit it was fitted in. */
export function valueAt({ centre, a, b, c }: Parabola, x: number): number {
  const u = x - centre
  return a + b * u + c * u * u
}

/** Where it is highest (for a downward bend), and the standard error of that by the delta method. */
export function peakOf({ centre, b, c, covariance: v }: Parabola): { at: number; error: number } {
  const [db, dc] = [-1 / (2 * c), b / (2 * c * c)]
  return {
    at: centre - b / (2 * c),
    error: Math.sqrt(db * db * v[1]![1]! + 2 * db * dc * v[1]![2]! + dc * dc * v[2]![2]!),
  }
}

/**
 * Change of y from one x to another, with its interval: the level drops out.
 *
 * @param t half the interval, in standard errors
 */
export function changeBetween(
  { centre, b, c, covariance: v }: Parabola,
  from: number,
  to: number,
  t: number,
): { value: number; low: number; high: number } {
  const [x, y] = [from - centre, to - centre]
  const [db, dc] = [y - x, y * y - x * x]
  const value = b * db + c * dc
  const half = t * Math.sqrt(Math.max(0, db * db * v[1]![1]! + 2 * db * dc * v[1]![2]! + dc * dc * v[2]![2]!))
  return { value, low: value - half, high: value + half }
}

/** Inverse of a symmetric 3 x 3 matrix by its cofactors. */
function inverse3(m: number[][]): number[][] {
  const cofactor = (i: number, j: number): number => {
    const [r0, r1] = [0, 1, 2].filter((k) => k !== i) as [number, number]
    const [c0, c1] = [0, 1, 2].filter((k) => k !== j) as [number, number]
    return (-1) ** (i + j) * (m[r0]![c0]! * m[r1]![c1]! - m[r0]![c1]! * m[r1]![c0]!)
  }
  const determinant = [0, 1, 2].reduce((sum, j) => sum + m[0]![j]! * cofactor(0, j), 0)
  return [0, 1, 2].map((i) => [0, 1, 2].map((j) => cofactor(j, i) / determinant))
}
