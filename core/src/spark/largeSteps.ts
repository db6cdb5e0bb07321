import { DEFAULT_SPARK_LIMITS } from './suggestSpark'
import type { Table } from '../table/table'

/** Steps of a spark table from one revision to the next that are too large to be taken unasked. */
export interface LargeSteps {
  /** cells with too much more, and too much less advance */
  more: number
  less: number
  /** the largest of them, degrees */
  largest: number
}

/** Rounding of what was typed, degrees. */
const SLACK = 0.051

/**
 * Large steps of advance between two states of a spark table; null for none, and for other tables. More than a degree and a
 * half at once may knock before anybody hears it, and a large step back runs the exhaust hot.
 */
export function largeSteps(before: Table, after: Table['values']): LargeSteps | null {
  if (!before.kind.startsWith('spark')) return null
  const steps = after.flatMap((row, r) => row.map((value, k) => value - before.values[r]![k]!))
  const more = steps.filter((step) => step > DEFAULT_SPARK_LIMITS.more + SLACK)
  const less = steps.filter((step) => step < -DEFAULT_SPARK_LIMITS.less - SLACK)
  const largest = [...more, ...less].reduce((most, one) => (Math.abs(one) > Math.abs(most) ? one : most), 0)
  return largest === 0 ? null : { more: more.length, less: less.length, largest }
}

/** Why they are not taken unasked, in words. */
export function largeStepsText({ more, less, largest }: LargeSteps): string {
  const cells = [
    ...(more ? [`${more} ${more === 1 ? 'cell rises' : 'cells rise'} by more than ${DEFAULT_SPARK_LIMITS.more}°`] : []),
    ...(less ? [`${less} ${less === 1 ? 'cell falls' : 'cells fall'} by more than ${DEFAULT_SPARK_LIMITS.less}°`] : []),
  ]
  return `${cells.join(', ')}; the largest step is ${largest > 0 ? '+' : '−'}${Math.abs(largest).toFixed(1)}°. A large step of advance can knock before anybody hears it, and a large step back runs the exhaust hot. Go in small steps and measure between them, or say why this once it must be.`
}
