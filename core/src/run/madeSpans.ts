import { rowsOf } from './pulls'
import { stopOf } from './stopOf'
import type { SweepSpan } from './sweepSpans'

/**
 * Sweeps as somebody made them of a log, by hand: every row goes to the one that it leads to, as with those that are found.
 *
 * @param stretches parts of the log, s, in the order of their starts
 */
export function madeSpans(
  time: Float32Array,
  rpm: Float32Array,
  stretches: readonly { kind: string; from: number; to: number }[],
  throttle?: Float32Array,
): SweepSpan[] {
  const sweeps = stretches.filter((one) => one.kind === 'sweep').map((one) => rowsOf(time, one))
  const own = sweeps.filter(({ from, to }) => to - from > 1)
  return own.map(({ from, to }, k) => {
    const stop = throttle ? stopOf([...throttle.subarray(from, to)]) : null
    return {
      from: k === 0 ? 0 : (own[k - 1]!.to + from) >> 1,
      to: k + 1 < own.length ? (to + own[k + 1]!.from) >> 1 : time.length,
      stop: stop === null ? null : Math.round(10 * stop) / 10,
      fromRpm: Math.round(Math.min(rpm[from]!, rpm[to - 1]!)),
      toRpm: Math.round(Math.max(rpm[from]!, rpm[to - 1]!)),
    }
  })
}
