/** Distances at which a strip takes times, m: 60 and 330 ft, an eighth of a mile, 1,000 ft, a quarter. */
export const STRIP_MARKS = [18.288, 100.584, 201.168, 304.8, 402.336] as const

/** What a pass is timed by. */
export interface StripRules {
  /** m that it rolls from where it stood before the clock starts */
  rolloutM: number
  /** m before a mark over which the speed there is taken */
  trapM: number
  /** m at which the pass ends */
  endM: number
}

/** A foot of rollout, 66 ft of speed trap, a quarter of a mile: common practice. */
export const USUAL_RULES: StripRules = { rolloutM: 0.3048, trapM: 20.1168, endM: 402.336 }

/** A time at a mark; km/h over the trap before it, null where the mark lies nearer than a trap is long, or nobody noted it. */
export interface StripSplit {
  distanceM: number
  timeS: number
  speedKmh: number | null
}

/**
 * What a mark is called at the strip.
 *
 * @example
 * markName(18.288) // '60 ft'
 */
export function markName(distanceM: number): string {
  const known = ['60 ft', '330 ft', '1/8 mile', '1000 ft', '1/4 mile'] as const
  const k = STRIP_MARKS.findIndex((mark) => Math.abs(mark - distanceM) < 0.5)
  return known[k] ?? `${Math.round(distanceM)} m`
}
