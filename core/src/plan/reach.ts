import { isSameStop } from '../run/stopOf'
import type { MadeRun } from './madeRun'

/** % of plate up to which an engine does not rev out, and how much of the span it then reaches (common practice). */
const SHORT_REACH: readonly [stop: number, share: number][] = [
  [5, 0.65],
  [10, 0.8],
]

/** Share of the span within which two ends are one. */
const SAME_END = 0.04

/** Highest rpm worth asking of a throttle stop where nothing was run: small openings do not bring an engine to its limit. */
export function reachOf(stop: number, span: { fromRpm: number; toRpm: number }): number {
  const short = SHORT_REACH.find(([most]) => stop <= most)
  return short ? Math.round((span.fromRpm + short[1] * (span.toRpm - span.fromRpm)) / 100) * 100 : span.toRpm
}

/**
 * The same as far as runs have taught it: where one came to the end of what is usually asked, all of the span is asked the next
 * time; where one ended elsewhere, the engine goes no further. What a smaller opening reached a larger one reaches, too.
 *
 * @param made runs there are, in any order
 */
export function reachLearnt(stop: number, span: { fromRpm: number; toRpm: number }, made: readonly MadeRun[]): number {
  const usual = reachOf(stop, span)
  const same = SAME_END * (span.toRpm - span.fromRpm)
  const tops = made
    .filter((one) => one.kind === 'sweep' && (one.load <= stop || isSameStop(one.load, stop)))
    .map((one) => Math.max(one.fromRpm, one.toRpm))
  const best = Math.max(0, ...tops)
  if (best < usual - same) return usual
  const isWhole = best >= span.toRpm - same || best <= usual + same
  return isWhole ? span.toRpm : Math.round(best / 100) * 100
}
