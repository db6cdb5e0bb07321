import { tableFuel, type Calibration } from './controller'
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
  const asked = faults.wiring.map(
    (pulses, c) => tableFuel(calibration, pulses, rpm, plate) * faults.injectors[c]! * trim,
  )
  const perSecond = (asked.reduce((sum, fuel) => sum + fuel, 0) * rpm) / 120
  const share = perSecond > faults.pump ? faults.pump / perSecond : 1
  return asked.map((fuel) => fuel * share)
}
