/** Differences by bin. */
interface Differences {
  rpm: readonly number[]
  difference: readonly (number | null)[]
  real: readonly boolean[]
}

/** A real difference over less than this is no difference to live with, rpm. */
const LEAST_SPAN = 300

/** Bins side by side whose difference is real and of one sign, as runs of indices; those that are too narrow are left out. */
export function realSpans({ rpm, difference, real }: Differences): number[][] {
  const spans: number[][] = []
  for (const [k, isReal] of real.entries()) {
    if (!isReal) continue
    const last = spans.at(-1)
    const goesOn = last?.at(-1) === k - 1 && Math.sign(difference[k] ?? 0) === Math.sign(difference[k - 1] ?? 0)
    if (last && goesOn) last.push(k)
    else spans.push([k])
  }
  const step = rpm.length > 1 ? rpm[1]! - rpm[0]! : 0
  return spans.filter((bins) => bins.length * step >= LEAST_SPAN)
}
