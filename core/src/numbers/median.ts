/**
 * Middle value; of an even number the mean of the two in the middle. NaN for none.
 *
 * @example
 * median([3, 1, 2, 10]) // 2.5
 */
export function median(values: readonly number[]): number {
  if (values.length === 0) return NaN
  const sorted = Float64Array.from(values).sort()
  const half = sorted.length >> 1
  return sorted.length % 2 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2
}
