/**
 * The rising sequence nearest to some values in weighted squares, by pooling neighbours that fall.
 *
 * @param weights above zero; all 1 when left out
 * @see Barlow, Bartholomew, Bremner and Brunk, Statistical Inference under Order Restrictions (1972), pool adjacent violators
 * @example
 * isotonic([1, 3, 2, 4])[1] // 2.5
 */
export function isotonic(values: ArrayLike<number>, weights?: ArrayLike<number>): number[] {
  const pools: { sum: number; weight: number; count: number }[] = []
  for (let i = 0; i < values.length; i++) {
    const weight = weights ? weights[i]! : 1
    pools.push({ sum: weight * values[i]!, weight, count: 1 })
    while (pools.length > 1) {
      const [before, last] = pools.slice(-2) as [(typeof pools)[number], (typeof pools)[number]]
      if (before.sum / before.weight <= last.sum / last.weight) break
      pools.splice(-2, 2, {
        sum: before.sum + last.sum,
        weight: before.weight + last.weight,
        count: before.count + last.count,
      })
    }
  }
  return pools.flatMap((pool) => Array.from({ length: pool.count }, () => pool.sum / pool.weight))
}
