import { studentTail } from '../numbers/studentT'
import type { SparkPoint } from './fitAdvance'

/** Torque that moved between the first setting and its repeat at the end, %. */
export interface TorqueDrift {
  pct: number
  /** larger than the runs' own spread explains, and than 1.5 % */
  isReal: boolean
}

/** Less is not worth a word, %. */
const SMALL = 1.5
const CHANCE = 0.05

/**
 * Drift of torque with heat while settings were stepped, from the repeat of the first setting: without one nobody can tell
 * (null).
 *
 * @param points in the order in which they were run
 * @param spread standard deviation of one run, N·m
 * @param df degrees of freedom behind that spread
 */
export function torqueDrift(points: readonly SparkPoint[], spread: number, df: number): TorqueDrift | null {
  const first = points[0]
  const again = points.findLastIndex((one) => first !== undefined && Math.abs(one.advance - first.advance) < 0.25)
  if (!first || again < points.length / 2) return null
  const change = points[again]!.torque - first.torque
  const pct = (100 * change) / first.torque
  return { pct, isReal: Math.abs(pct) > SMALL && studentTail(change / (spread * Math.SQRT2), df) < CHANCE }
}
