import type { RunColumns } from './run'

/** A lag that falls with the gas that flows: the pipe's volume over volumetric flow, and what does not depend on it. */
export interface FlowLag {
  /** s */
  base: number
  /** s x rpm x % of plate (or kPa) */
  perFlow: number
}

/** Flow below which an idling engine counts, rpm x %: the lag grows no further. */
const LEAST_FLOW = 5000
/** s that no lag is beyond. */
const LONGEST = 1

/** rpm x opening (or pressure, where there is no throttle) at a row: what the gas flow goes with. */
export function flowAt({ rpm, throttle, manifold }: RunColumns, i: number): number {
  return rpm[i]! * (throttle ? throttle[i]! : (manifold?.[i] ?? NaN))
}

/**
 * Lag of a charge drawn in at that flow, s.
 *
 * @example
 * lagAtFlow({ base: 0.1, perFlow: 4000 }, 40000) // 0.2
 */
export function lagAtFlow({ base, perFlow }: FlowLag, flow: number): number {
  return flow > 0
    ? Math.min(LONGEST, base + perFlow / Math.max(LEAST_FLOW, flow))
    : Math.min(LONGEST, base + perFlow / LEAST_FLOW)
}
