/** Banks that differ while their average looks right. */
export interface Flattered {
  /** cylinder or bank, from 1 */
  leanest: number
  richest: number
  /** fuel needed, %: of the average, of the leanest and of the richest */
  averagePct: number
  leanestPct: number
  richestPct: number
}

/** Average this near its target reads as good; a bank this far off it is not. */
const LOOKS_GOOD = 1.5
const IS_OFF = 2.5

/**
 * Whether the average of cylinders or banks flatters: it looks on target while one of them is lean.
 *
 * @param lambda by cylinder; NaN where there is no reading
 * @returns null when there are fewer than two readings or nothing is hidden
 */
export function flatteredBanks(lambda: readonly number[], target: number): Flattered | null {
  const known = lambda.flatMap((value, k) => (value > 0 ? [{ bank: k + 1, value }] : []))
  if (known.length < 2) return null
  const sorted = [...known].sort((a, b) => b.value - a.value)
  const percent = (value: number): number => 100 * (value / target - 1)
  const average = percent(known.reduce((sum, one) => sum + one.value, 0) / known.length)
  const [leanest, richest] = [sorted[0]!, sorted.at(-1)!]
  const leanestPct = percent(leanest.value)
  if (Math.abs(average) > LOOKS_GOOD || leanestPct < IS_OFF) return null
  return {
    leanest: leanest.bank,
    richest: richest.bank,
    averagePct: average,
    leanestPct,
    richestPct: percent(richest.value),
  }
}
