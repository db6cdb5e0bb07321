/** Lanczos's coefficients for g = 7. */
const LANCZOS = [
  676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059, 12.507343278686905,
  -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
]

/**
 * ln of the gamma function (Lanczos, error below 1e-13).
 *
 * @param x above 0
 * @see Lanczos, SIAM J. Numer. Anal. B 1 (1964) 86
 * @example
 * logGamma(5) // 3.178
 */
export function logGamma(x: number): number {
  if (x < 0.5) return Math.log(Math.PI / Math.sin(Math.PI * x)) - logGamma(1 - x)
  const t = x - 1 + 7.5
  let sum = 0.99999999999980993
  for (let k = 0; k < LANCZOS.length; k++) sum += LANCZOS[k]! / (x + k)
  return 0.5 * Math.log(2 * Math.PI) + (x - 0.5) * Math.log(t) - t + Math.log(sum)
}
