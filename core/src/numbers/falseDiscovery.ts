/**
 * Which of many findings are real, so that among those called real no more than `rate` are false on average.
 *
 * @param p two-sided probabilities; null is never real
 * @param rate share of false ones to put up with, 0 to 1
 * @see Benjamini and Hochberg, J. R. Statist. Soc. B 57 (1995) 289
 */
export function realAmong(p: readonly (number | null)[], rate: number): boolean[] {
  const known = p.filter((one): one is number => one !== null).sort((a, b) => a - b)
  let limit = -1
  known.forEach((value, k) => {
    if (value <= (rate * (k + 1)) / known.length) limit = value
  })
  return p.map((one) => one !== null && one <= limit)
}
