import { addAt, banded, cholesky, solveFactored, type Banded } from './banded'

/** A place on a surface, and how far apart places must be to be strangers. */
export type Place2 = readonly [number, number]

export interface SurfacePrior {
  /** distances along both axes over which values are alike */
  reach: Place2
  /** standard deviation of what varies from place to place, and of what all places share */
  spread: number
  level: number
}

/** Mean of the value at a place, its variance, and the share of what varies there that the readings leave unknown, 0 to 1. */
export interface SurfaceValue {
  mean: number
  variance: number
  unknown: number
}

/** What is common to two places. */
export function likeness({ reach, spread, level }: SurfacePrior, a: Place2, b: Place2): number {
  const [x, y] = [(a[0] - b[0]) / reach[0], (a[1] - b[1]) / reach[1]]
  return level * level + spread * spread * Math.exp(-0.5 * (x * x + y * y))
}

/** Covariance of places with what is added at each on its diagonal. */
export function likenessMatrix(prior: SurfacePrior, places: readonly Place2[], added: readonly number[]): Banded {
  const matrix = banded(places.length, Math.max(0, places.length - 1))
  places.forEach((a, i) => {
    for (let j = 0; j <= i; j++) addAt(matrix, i, j, likeness(prior, a, places[j]!) + (i === j ? added[i]! : 0))
  })
  return matrix
}

/** Half of the noise by which readings are taken to be exact, to ask what they leave unknown. */
const EXACT = 0.05

/**
 * A smooth surface through readings at places: Gaussian process with a squared-exponential covariance and a common level.
 *
 * @param readings value and variance at each place, one at the least
 * @returns the posterior at any place, and the log marginal likelihood of the readings
 * @see Rasmussen and Williams, Gaussian Processes, algorithm 2.1, from memory
 * @example
 * smoothSurface([{ at: [3000, 40], value: 2, variance: 0.3 }], { reach: [2500, 40], spread: 2, level: 4 }).at([4000, 40])
 */
export function smoothSurface(
  readings: readonly { at: Place2; value: number; variance: number }[],
  prior: SurfacePrior,
): { at(place: Place2): SurfaceValue; logLikelihood: number } {
  const places = readings.map((one) => one.at)
  const values = Float64Array.from(readings, (one) => one.value)
  const factor = cholesky(
    likenessMatrix(
      prior,
      places,
      readings.map((one) => one.variance),
    ),
  )
  const varying = { ...prior, level: 0 }
  const exact = cholesky(
    likenessMatrix(
      varying,
      places,
      readings.map(() => (EXACT * prior.spread) ** 2),
    ),
  )
  const weights = solveFactored(factor, values)
  const n = readings.length
  let logLikelihood = -0.5 * weights.reduce((sum, one, k) => sum + one * values[k]!, 0)
  for (let i = 0; i < n; i++) logLikelihood -= Math.log(factor.data[i * n + n - 1]!)
  const dot = (a: Float64Array, b: Float64Array): number => a.reduce((sum, one, k) => sum + one * b[k]!, 0)
  return {
    logLikelihood,
    at: (place) => {
      const like = Float64Array.from(places, (one) => likeness(prior, one, place))
      const own = Float64Array.from(places, (one) => likeness(varying, one, place))
      return {
        mean: dot(like, weights),
        variance: Math.max(0, likeness(prior, place, place) - dot(like, solveFactored(factor, like))),
        unknown: Math.min(1, Math.max(0, 1 - dot(own, solveFactored(exact, own)) / prior.spread ** 2)),
      }
    },
  }
}
