import { MOST_LEAN } from './wanted'

/** What is wanted at some places. */
export interface Wishes {
  factor: ArrayLike<number>
  weight: ArrayLike<number>
  /** what lean counts */
  lean: ArrayLike<number>
}

/**
 * The one factor that leaves the least cost at some places. In 1 / factor the residual is straight and its cost a parabola in
 * pieces, bent up: weighted means by the sign of what is left, until no sign changes, are exact.
 *
 * @param from index of the first place; @param to of the one after the last
 * @param least the factor must not be below it
 * @returns `least` or 1 where there is no place
 * @example
 * oneFactor({ factor: [1, 1.1], weight: [0.5, 0.5], lean: [2, 2] }).factor.toFixed(3) // '1.069'
 */
export function oneFactor(
  { factor, weight, lean }: Wishes,
  least = 0,
  from = 0,
  to = factor.length,
): { factor: number; cost: number } {
  let inverse = NaN
  let next = 1
  for (let round = 0; round < 100 && next !== inverse; round++) {
    inverse = next
    let [up, down] = [0, 0]
    for (let k = from; k < to; k++) {
      const wanted = factor[k]!
      const counts = weight[k]! * (wanted * inverse > 1 ? lean[k]! : 1)
      up += counts * wanted
      down += counts * wanted * wanted
    }
    next = down > 0 ? up / down : 1
  }
  if (least > 0) next = Math.min(next, 1 / least)
  let cost = 0
  for (let k = from; k < to; k++) {
    const error = factor[k]! * next - 1
    cost += weight[k]! * (error > 0 ? lean[k]! : 1) * error * error
  }
  return { factor: 1 / next, cost }
}

/** The least factor that leaves no place leaner than may be under load. */
export const floorOf = (wanted: number): number => wanted / (1 + MOST_LEAN)
