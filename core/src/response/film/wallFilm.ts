/**
 * The wall film as a disturbance of lambda: what a share of the fuel landing on the port wall leaves missing in the
 * cylinder while the film grows, and what an enrichment that decays puts in its place.
 *
 * With the charge on its way u(t) from one filling to the next, `decaying(u, tau)` is what is left at a time of all the
 * growth so far, each part decaying by exp(-t / tau): the lean share of the fuel is X (1 - a0 / a1) times it.
 *
 * @see Aquino, SAE 810494 (the X-tau model)
 */

/**
 * Growth of a charge, decaying: the integral of u'(s) exp(-(t - s) / tau) over s.
 *
 * @param progress share of the way, 0 to 1, at even steps
 * @param tau s; @param step s between two of them
 * @example
 * decaying([0, 1, 1], 0.1, 0.1)[2] // 0.223
 */
export function decaying(progress: ArrayLike<number>, tau: number, step: number): Float64Array {
  const out = new Float64Array(progress.length)
  const keep = Math.exp(-step / tau)
  // What came during a step has decayed over half of it.
  const half = Math.exp(-step / tau / 2)
  for (let k = 1; k < out.length; k++) out[k] = out[k - 1]! * keep + (progress[k]! - progress[k - 1]!) * half
  return out
}

/**
 * Lambda of the charge after a step in one go, over the lambda it settles at, with injection that follows the air at once.
 *
 * @param share X, of the fuel that lands on the wall; @param tau s in which the film leaves it
 * @param air filling before over filling after; @param t s after the step
 * @example
 * afterStep(0.3, 0.2, 0.5, 0) // 1.176
 */
export function afterStep(share: number, tau: number, air: number, t: number): number {
  return 1 / (1 - share * (1 - air) * Math.exp(-t / tau))
}
