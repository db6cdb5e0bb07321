import type { MadeRun } from './candidates'

/** % of plate up to which an engine does not rev out, and how much of the span it then reaches (common practice). */
const SHORT_REACH: readonly [stop: number, share: number][] = [
  [5, 0.65],
  [10, 0.8],
]

/** Share of the span by which a run that came to its end is let go further, and within which two ends are one. */
const FURTHER = 0.2
const SAME_END = 0.04
/** % of plate within which a run tells of a stop. */
const SAME_STOP = 3
/** Sweeps that end alike though more was asked: there the engine goes no further. */
const STUCK = 3

/** Highest rpm worth asking of a throttle stop where nothing was run: small openings do not bring an engine to its limit. */
export function reachOf(stop: number, span: { fromRpm: number; toRpm: number }): number {
  const short = SHORT_REACH.find(([most]) => stop <= most)
  return short ? Math.round((span.fromRpm + short[1] * (span.toRpm - span.fromRpm)) / 100) * 100 : span.toRpm
}

/**
 * The same as far as runs have taught it: one that came to the end of what was asked is let go further the next time, and what
 * a smaller opening reached a larger one reaches, too. Where several end alike before that, the engine goes no further.
 *
 * @param made runs there are, in any order
 */
export function reachLearnt(stop: number, span: { fromRpm: number; toRpm: number }, made: readonly MadeRun[]): number {
  const usual = reachOf(stop, span)
  const sweeps = made.filter((one) => one.kind === 'sweep')
  const topOf = ({ fromRpm, toRpm }: MadeRun): number => Math.max(fromRpm, toRpm)
  const width = span.toRpm - span.fromRpm
  const below = sweeps.filter((one) => one.load <= stop + SAME_STOP).map(topOf)
  const best = Math.max(0, ...below)
  let reach = usual
  while (reach < span.toRpm && best >= reach - SAME_END * width) reach = Math.min(span.toRpm, reach + FURTHER * width)
  const here = sweeps.filter((one) => Math.abs(one.load - stop) <= SAME_STOP).map(topOf)
  const isStuck =
    reach > best + SAME_END * width && here.filter((one) => one >= best - SAME_END * width).length >= STUCK
  return Math.round(Math.min(span.toRpm, isStuck ? Math.max(best, usual) : Math.max(reach, best)) / 100) * 100
}
