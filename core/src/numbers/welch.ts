import { mean } from './mean'
import { studentFactor, studentTail } from './studentT'

/** Difference of two means, second minus first. */
export interface Difference {
  difference: number
  /** interval at the confidence asked for; null when a group has one value only */
  low: number | null
  high: number | null
  /** two-sided; null like the interval */
  p: number | null
  df: number | null
}

/**
 * Welch's comparison of two groups of unequal variance.
 *
 * @param first, second one value a run
 * @param confidence of the interval
 * @param least standard deviation that a value is assumed to have at least: readings agree by luck now and then
 * @throws RangeError when a group is empty
 * @see Welch, Biometrika 34 (1947) 28
 * @example
 * welch([10, 11, 12], [12, 13, 14]).difference // 2
 */
export function welch(first: readonly number[], second: readonly number[], confidence = 0.9, least = 0): Difference {
  if (first.length === 0 || second.length === 0) throw new RangeError('A group has no value.')
  const [a, b] = [meanAndVariance(first, least), meanAndVariance(second, least)]
  const difference = b.mean - a.mean
  if (first.length < 2 || second.length < 2) return { difference, low: null, high: null, p: null, df: null }
  const [u, v] = [a.variance / first.length, b.variance / second.length]
  const error = Math.sqrt(u + v)
  if (error === 0) return { difference, low: difference, high: difference, p: difference === 0 ? 1 : 0, df: Infinity }
  const df = (u + v) ** 2 / (u ** 2 / (first.length - 1) + v ** 2 / (second.length - 1))
  const half = studentFactor(confidence, df) * error
  return { difference, low: difference - half, high: difference + half, p: studentTail(difference / error, df), df }
}

function meanAndVariance(values: readonly number[], least: number): { mean: number; variance: number } {
  const middle = mean(values)
  const squares = values.reduce((sum, value) => sum + (value - middle) ** 2, 0)
  return { mean: middle, variance: Math.max(least ** 2, values.length > 1 ? squares / (values.length - 1) : 0) }
}
