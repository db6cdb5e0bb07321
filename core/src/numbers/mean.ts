/**
 * Mean of the readings that are known: NaN is passed over.
 *
 * @param from, to first row and the one after the last; all when left out
 * @returns NaN where nothing is known
 *
 * @example
 * mean([1, NaN, 3]) // 2
 */
export function mean(values: ArrayLike<number> | undefined, from = 0, to = values?.length ?? 0): number {
  let sum = 0
  let count = 0
  for (let i = from; values && i < to; i++) {
    const value = values[i]!
    if (value !== value) continue
    sum += value
    count++
  }
  return count ? sum / count : NaN
}
