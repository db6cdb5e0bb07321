import { USUAL_RON } from '../fuel/fuels'

/**
 * Advance of best torque, degrees before top dead centre: more with speed (the flame needs crank angle), less with
 * filling (a dense charge burns faster), more for lean and rich mixtures that burn slower.
 *
 * @param filling air of a cycle as a share of swept volume at ambient density
 * @see Heywood, Internal Combustion Engine Fundamentals, ch. 9 and 15, for the trends (from memory)
 */
export function bestAdvance(rpm: number, filling: number, lambda: number): number {
  const speed = 14 + 16 * (1 - Math.exp(-rpm / 3200))
  const load = 13 * (1 - Math.min(1, filling))
  const mixture = 55 * (lambda - 0.9) ** 2
  return speed + load + Math.min(8, mixture)
}

/** Torque by distance from best advance, 1 at best: flat near it and near parabolic (10 degrees cost about 5 %; Heywood ch. 15, from memory). */
export function advanceEfficiency(offBest: number): number {
  return Math.max(0.3, 1 - 5.2e-4 * offBest ** 2)
}

/** What knock depends on beside advance. */
export interface KnockState {
  rpm: number
  filling: number
  lambda: number
  coolantC: number
  intakeC: number
  /** research octane number of the fuel */
  ron: number
}

/** Degrees of advance that a point of octane allows (common practice: half a degree to one). */
const PER_OCTANE = 0.6

/** Advance at which knock begins: earlier with filling, heat and lean mixture; speed leaves it less time, and a better fuel resists it. */
export function knockAdvance({ rpm, filling, lambda, coolantC, intakeC, ron }: KnockState): number {
  return (
    44 -
    19 * Math.min(1.1, filling) +
    5 * (rpm / 10000) -
    0.12 * Math.max(0, coolantC - 90) -
    0.1 * Math.max(0, intakeC - 25) -
    45 * Math.max(0, lambda - 0.92) +
    PER_OCTANE * (ron - USUAL_RON)
  )
}
