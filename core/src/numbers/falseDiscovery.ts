/** Share of the rate at which all findings together must differ from nothing: tried so that of sets alike fewer than 5 in 100 are shaded. */
const WHOLE = 0.7

/**
 * Which of many findings are real, so that among those called real no more than `rate` are false on average. Where all of
 * them together differ from nothing, the share that is likely to be nothing is taken from the findings themselves, so that a
 * difference which lies under all of them alike is not asked to prove itself against findings that are none.
 *
 * @param p two-sided probabilities; null is never real
 * @param rate share of false ones to put up with, 0 to 1
 * @param whole two-sided probability of their mean, where one is known
 * @see Benjamini and Hochberg, J. R. Statist. Soc. B 57 (1995) 289; Storey, J. R. Statist. Soc. B 64 (2002) 479
 */
export function realAmong(p: readonly (number | null)[], rate: number, whole = 1): boolean[] {
  const known = p.filter((one): one is number => one !== null).sort((a, b) => a - b)
  const nothing = whole <= WHOLE * rate ? Math.min(1, (2 * known.filter((one) => one > 0.5).length) / known.length) : 1
  let limit = -1
  known.forEach((value, k) => {
    if (value <= rate && value * nothing <= (rate * (k + 1)) / known.length) limit = value
  })
  return p.map((one) => one !== null && one <= limit)
}
