import { isShut } from './engineState'
import { median } from '../numbers/median'

/** % of plate around the stop that still is the stop, and share of a large one. */
const AT_STOP = { least: 2.5, share: 0.04 }
/** Stops of two runs are the same within a share of small ones, which are set side by side, so many % from there, and a share of large ones: what a hand, or a sensor that is not taught, makes of one mark. */
const SAME = { least: 1.2, ofSmall: 0.15, usual: 2.5, ofLarge: 0.06 }

/** Openings that are looked at, at least. */
const MOST = 2000

/**
 * The opening at which most of a run was spent, shut throttle aside.
 *
 * @param all openings, %; NaN where nothing was read
 * @returns null when nothing was
 * @example
 * stopOf([0, 0, 0, 39.8, 40, 40.2]) // 40
 */
export function stopOf(all: readonly number[] | Float32Array): number | null {
  // Evenly chosen ones tell where a plate stood; a log has millions.
  const stride = Math.max(1, Math.floor(all.length / MOST))
  const openings = Array.from({ length: Math.ceil(all.length / stride) }, (_, k) => all[k * stride]!)
  const counts = new Map<number, number>()
  for (const value of openings)
    if (value === value) counts.set(Math.round(value), (counts.get(Math.round(value)) ?? 0) + 1)
  if (counts.size === 0) return null
  const around = (opening: number): number =>
    [-1, 0, 1].reduce((sum, d) => sum + (counts.get(opening + d) ?? 0), 0) * (isShut(opening) ? 0.2 : 1)
  const best = [...counts.keys()].reduce((most, one) => (around(one) > around(most) ? one : most))
  return median(openings.filter((value) => Math.abs(value - best) <= 1.5))
}

/** Whether a reading's opening still is the stop that its run was held at. */
export const isAtStop = (opening: number, stop: number): boolean =>
  Math.abs(opening - stop) <= Math.max(AT_STOP.least, AT_STOP.share * stop)

/** Whether two runs were held at one stop, or one at a stop that was asked for, %. */
export function isSameStop(one: number, other: number): boolean {
  const low = Math.min(one, other)
  return Math.abs(one - other) <= Math.max(SAME.least, Math.min(SAME.usual, SAME.ofSmall * low), SAME.ofLarge * low)
}
