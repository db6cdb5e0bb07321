/** Share of the rate at which all findings together must differ from nothing. Found by trial: of equal sets fewer than 5 in 100 are shaded. */
const WHOLE = 0.7

/**
 * Tells which of many findings are real: among those called real, no more than `rate` are false on average (Benjamini and
 * Hochberg). That rule supposes that nearly all findings are nothing. Where all of them together differ from nothing, the share that is
 * nothing is estimated from them instead (Storey). So a difference that lies under all of them is found, too.
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
