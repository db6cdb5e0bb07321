import { median } from '../numbers/median'

/** % of plate around the stop that still is the stop. */
const AT_STOP = 2.5
/** Shut, by and large. */
export const SHUT = 3

/**
 * The opening at which most of a run was spent, shut throttle aside.
 *
 * @param openings %; NaN where nothing was read
 * @returns null when nothing was
 * @example
 * stopOf([0, 0, 0, 39.8, 40, 40.2]) // 40
 */
export function stopOf(openings: readonly number[]): number | null {
  const counts = new Map<number, number>()
  for (const value of openings)
    if (value === value) counts.set(Math.round(value), (counts.get(Math.round(value)) ?? 0) + 1)
  if (counts.size === 0) return null
  const around = (opening: number): number =>
    [-1, 0, 1].reduce((sum, d) => sum + (counts.get(opening + d) ?? 0), 0) * (opening <= SHUT ? 0.2 : 1)
  const best = [...counts.keys()].reduce((most, one) => (around(one) > around(most) ? one : most))
  return median(openings.filter((value) => Math.abs(value - best) <= 1.5))
}

/** Whether an opening still is the stop. */
export const isAtStop = (opening: number, stop: number): boolean =>
  Math.abs(opening - stop) <= Math.max(AT_STOP, 0.04 * stop)
