import { tableFuel, type Calibration } from './controller'
import { givenByRail, USUAL_RAIL } from './controllerWays'
import type { RigFaults } from './faults'

/**
 * Fuel that reaches each cylinder, mg per cycle: what the tables ask for, through wiring, injectors and a pump that gives
 * no more than it can.
 *
 * @param trim factor of the closed loop and of what is added by hand
 */
export function deliveredFuel(
  calibration: Calibration,
  faults: RigFaults,
  rpm: number,
  plate: number,
  trim = 1,
): number[] {
  const { ways, rail = USUAL_RAIL } = calibration
  const wanted = faults.wiring.map(
    (pulses, c) => tableFuel(calibration, pulses, rpm, plate) * faults.injectors[c]! * trim,
  )
  const flowOf = (fuel: readonly number[]): number => (fuel.reduce((sum, one) => sum + one, 0) * rpm) / 120
  const through = ways ? givenByRail(ways, rail, flowOf(wanted) / 1000) : 1
  const asked = wanted.map((fuel) => fuel * through)
  const perSecond = flowOf(asked)
  const share = perSecond > faults.pump ? faults.pump / perSecond : 1
  return asked.map((fuel) => fuel * share)
}
