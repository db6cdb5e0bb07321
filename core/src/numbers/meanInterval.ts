import { mean } from './mean'
import { studentFactor } from './studentT'

/** A mean with the ends of its interval; null where one value tells of no scatter. */
export interface MeanInterval {
  mean: number
  low: number | null
  high: number | null
}

/**
 * Mean of some values with its interval by Student's t.
 *
 * @param confidence of the interval
 * @returns null without a value
 * @example
 * meanInterval([1, 2, 3])?.mean // 2
 */
export function meanInterval(values: readonly number[], confidence = 0.9): MeanInterval | null {
  if (values.length === 0) return null
  const middle = mean(values)
  if (values.length < 2) return { mean: middle, low: null, high: null }
  const variance = values.reduce((sum, one) => sum + (one - middle) ** 2, 0) / (values.length - 1)
  const half = studentFactor(confidence, values.length - 1) * Math.sqrt(variance / values.length)
  return { mean: middle, low: middle - half, high: middle + half }
}
