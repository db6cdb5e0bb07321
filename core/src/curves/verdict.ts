import { median } from '../numbers/median'
import type { RpmBand } from '../run/run'
import type { Comparison } from './compare'

/** What a comparison comes to, said plainly. */
export interface CompareVerdict {
  verdict: 'no difference shown' | 'more' | 'less' | 'more here, less there' | 'not told'
  /** spans in which the difference is real, with its mean there */
  spans: (RpmBand & { difference: number })[]
  /** span over which both were measured; null where they do not meet */
  over: RpmBand | null
  /** whether both were measured outside those spans, too */
  elsewhere: boolean
  /** half the usual width of the interval: what is smaller would not show with these runs; null without one */
  sees: number | null
}

/** A real difference over less than this is no difference to live with, rpm. */
const LEAST_SPAN = 300

/** Whether two sets differ at all, and where: real bins side by side make a span; what is too narrow counts as nothing. */
export function verdictOf(comparison: Comparison): CompareVerdict {
  const { rpm, difference, real, low, high } = comparison
  const met = rpm.filter((_, k) => difference[k] !== null)
  const over = met.length ? { fromRpm: met[0]!, toRpm: met.at(-1)! } : null
  if (!over || low.every((value) => value === null))
    return { verdict: 'not told', spans: [], over, elsewhere: over !== null, sees: null }
  const spans: { bins: number[] }[] = []
  for (const [k, isReal] of real.entries()) {
    const last = spans.at(-1)?.bins
    const goesOn = last?.at(-1) === k - 1 && Math.sign(difference[k] ?? 0) === Math.sign(difference[k - 1] ?? 0)
    if (!isReal) continue
    if (last && goesOn) last.push(k)
    else spans.push({ bins: [k] })
  }
  const step = rpm.length > 1 ? rpm[1]! - rpm[0]! : 0
  const realSpans = spans
    .map(({ bins }) => ({
      fromRpm: rpm[bins[0]!]!,
      toRpm: rpm[bins.at(-1)!]!,
      difference: bins.reduce((sum, k) => sum + difference[k]!, 0) / bins.length,
    }))
    .filter((one) => one.toRpm - one.fromRpm + step >= LEAST_SPAN)
  const [up, down] = [realSpans.some((one) => one.difference > 0), realSpans.some((one) => one.difference < 0)]
  const verdict = up && down ? 'more here, less there' : up ? 'more' : down ? 'less' : 'no difference shown'
  const elsewhere = met.some((at) => !realSpans.some((one) => at >= one.fromRpm && at <= one.toRpm))
  const halves = low.flatMap((value, k) => (value === null || high[k] == null ? [] : [(high[k] - value) / 2]))
  return { verdict, spans: realSpans, over, elsewhere, sees: median(halves) }
}
