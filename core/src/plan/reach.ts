/** % of plate up to which an engine does not rev out, and how much of the span it then reaches (common practice). */
const SHORT_REACH: readonly [stop: number, share: number][] = [
  [5, 0.65],
  [10, 0.8],
]

/** Highest rpm worth asking of a throttle stop: small openings do not bring an engine to its limit. */
export function reachOf(stop: number, span: { fromRpm: number; toRpm: number }): number {
  const short = SHORT_REACH.find(([most]) => stop <= most)
  return short ? Math.round((span.fromRpm + short[1] * (span.toRpm - span.fromRpm)) / 100) * 100 : span.toRpm
}
