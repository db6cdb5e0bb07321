import { median } from '../../numbers/median'
import type { RpmBand } from '../../run/run'
import type { Comparison } from './compare'
import { realSpans } from './realSpans'

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

/** Whether two sets differ at all, and where: real bins side by side make a span; what is too narrow counts as nothing. */
export function verdictOf(comparison: Comparison): CompareVerdict {
  const { rpm, difference, low, high } = comparison
  const met = rpm.filter((_, k) => difference[k] !== null)
  const over = met.length ? { fromRpm: met[0]!, toRpm: met.at(-1)! } : null
  if (!over || low.every((value) => value === null))
    return { verdict: 'not told', spans: [], over, elsewhere: over !== null, sees: null }
  const spans = realSpans(comparison).map((bins) => ({
    fromRpm: rpm[bins[0]!]!,
    toRpm: rpm[bins.at(-1)!]!,
    difference: bins.reduce((sum, k) => sum + difference[k]!, 0) / bins.length,
  }))
  const [up, down] = [spans.some((one) => one.difference > 0), spans.some((one) => one.difference < 0)]
  const verdict = up && down ? 'more here, less there' : up ? 'more' : down ? 'less' : 'no difference shown'
  const elsewhere = met.some((at) => !spans.some((one) => at >= one.fromRpm && at <= one.toRpm))
  const halves = low.flatMap((value, k) => (value === null || high[k] == null ? [] : [(high[k] - value) / 2]))
  return { verdict, spans, over, elsewhere, sees: median(halves) }
}
