import { isOpen } from '../../run/engineState'
import { MAD_TO_SIGMA } from '../../numbers/medianAbsolute'
import { median } from '../../numbers/median'
import type { FlowLag } from '../../run/flowLag'
import type { Opening } from '../../run/openings'
import type { RunColumns } from '../../run/run'
import { SPIKE_DOUBT, STRAY } from './lagSources'

/** A lag that falls with flow, as openings at several stops tell it. */
export interface LagByFlow {
  lag: FlowLag
  /** standard error at a usual flow, s */
  error: number
  count: number
  /** rpm x % of the middle reading */
  usualFlow: number
}

const LEAST_OPENINGS = 8
/** The flows must span this much, and the lag must differ by this between them, s. */
const LEAST_SPAN = 2.5
const LEAST_FALL = 0.04
/** Standard errors by which the fall must be told. */
const SURE = 4

/**
 * Lag as base + perFlow / (rpm x opening), by the median of all slopes between openings (Theil 1950, Sen 1968), which some
 * strays do not move.
 *
 * @param runs that they were found in, for the flow of most
 * @returns null where openings do not tell that it falls: then one lag for all is the better model
 */
export function lagByFlow(openings: readonly Opening[], runs: readonly RunColumns[]): LagByFlow | null {
  const all = openings.filter((one) => one.flow > 0)
  if (all.length < LEAST_OPENINGS) return null
  const flows = all.map((one) => one.flow)
  if (Math.max(...flows) < LEAST_SPAN * Math.min(...flows)) return null
  const first = line(all.map(({ flow, lag }) => [1 / flow, lag] as const))
  const near = all.filter(({ flow, lag }) => Math.abs(lag - first.base - first.slope / flow) < STRAY)
  if (near.length < LEAST_OPENINGS || 2 * near.length < all.length) return null
  const points = near.map(({ flow, lag }) => [1 / flow, lag] as const)
  const { base, slope } = line(points)
  const rest = MAD_TO_SIGMA * median(points.map(([x, y]) => Math.abs(y - base - slope * x)))
  const middle = points.reduce((sum, [x]) => sum + x, 0) / points.length
  const spread = Math.sqrt(points.reduce((sum, [x]) => sum + (x - middle) ** 2, 0))
  const fall = slope * (Math.max(...points.map(([x]) => x)) - Math.min(...points.map(([x]) => x)))
  if (!(fall > LEAST_FALL) || !(slope > (SURE * Math.max(rest, 0.005)) / spread) || base < 0) return null
  return {
    lag: { base, perFlow: slope },
    error: Math.hypot(SPIKE_DOUBT, (1.25 * rest) / Math.sqrt(points.length)),
    count: near.length,
    usualFlow: usualFlow(runs),
  }
}

function line(points: readonly (readonly [x: number, y: number])[]): { base: number; slope: number } {
  const slopes = points.flatMap(([x, y], k) =>
    points.slice(k + 1).flatMap(([u, v]) => (Math.abs(u - x) > 0.1 * Math.max(u, x) ? [(v - y) / (u - x)] : [])),
  )
  const slope = slopes.length ? median(slopes) : 0
  return { slope, base: median(points.map(([x, y]) => y - slope * x)) }
}

/** Rows of a run that are looked at for its flow. */
const MOST = 200

function usualFlow(runs: readonly RunColumns[]): number {
  return median(
    runs.flatMap(({ rpm, throttle }) => {
      if (!throttle) return []
      const stride = Math.max(1, Math.ceil(rpm.length / MOST))
      return Array.from({ length: Math.floor(rpm.length / stride) }, (_, k) => k * stride).flatMap((i) =>
        isOpen(throttle[i]!) ? [rpm[i]! * throttle[i]!] : [],
      )
    }),
  )
}
