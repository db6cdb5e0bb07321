/** Coolant of a small engine: one lump of heat, a thermostat, a radiator with a fan. */
export interface Thermal {
  coolantC: number
}

/** J/K of engine and coolant. */
const CAPACITY = 14_000
/** Share of the fuel's heat that goes to the coolant. */
const TO_COOLANT = 0.24
const OPENS = 80
const OPEN = 88
/** W/K to the air: shut thermostat, radiator in still air, and what the fan adds. */
const CASING = 6
const RADIATOR = 40
const FAN = 330

/**
 * Warms or cools the engine over a time step.
 *
 * @param fuelWatt heat of the fuel burnt
 */
export function stepThermal(thermal: Thermal, fuelWatt: number, ambientC: number, fan: boolean, dt: number): void {
  const share = Math.min(1, Math.max(0, (thermal.coolantC - OPENS) / (OPEN - OPENS)))
  const conductance = CASING + share * (RADIATOR + (fan ? FAN : 0))
  const loss = conductance * (thermal.coolantC - ambientC)
  thermal.coolantC += ((TO_COOLANT * fuelWatt - loss) / CAPACITY) * dt
}
