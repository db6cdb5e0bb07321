/** Throttle below this (or 2 % above the closed stop, if lower) may cut fuel on the overrun. */
const CLOSED_MOST = 5
/** % above the lowest opening seen that still counts as shut. */
export const CLOSED_MARGIN = 2

/** Throttle at or under which the plate is shut: 2 % above the lowest opening seen, at most 5 %. Takes an opening free of noise. */
export function closedLimit(throttle: Float32Array): number {
  let least = Infinity
  for (const value of throttle) if (value < least) least = value
  return Math.min(least + CLOSED_MARGIN, CLOSED_MOST)
}
