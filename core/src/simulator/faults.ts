/** A plug that breaks down under load, in a band of speed. */
export interface Misfire {
  fromRpm: number
  toRpm: number
  /** % of plate from which it happens */
  fromPlate: number
  /** share of the first cylinder's cycles that do not burn */
  share: number
}

/** What may be wrong with a machine, or with how it is measured. */
export interface RigFaults {
  /** fuel that each cylinder's injector gives of what is asked; 1 is sound */
  injectors: number[]
  /** for each cylinder the one, from 0, whose pulses its injector gets */
  wiring: number[]
  /** mg/s that the pump gives at most */
  pump: number
  misfire: Misfire | null
  /** fresh air that a leak lets in ahead of the sensor, mg/s */
  leak: number
  /** what the gauge shows of the true lambda: another figure than 1 where it is scaled for another fuel */
  gauge: number
}

/** Nothing wrong. */
export function sound(cylinders: number): RigFaults {
  return {
    injectors: Array.from({ length: cylinders }, () => 1),
    wiring: Array.from({ length: cylinders }, (_, c) => c),
    pump: Infinity,
    misfire: null,
    leak: 0,
    gauge: 1,
  }
}

/** Share of the first cylinder's cycles that do not burn there. */
export function misfireShare(misfire: Misfire | null, rpm: number, plate: number): number {
  return misfire && rpm >= misfire.fromRpm && rpm <= misfire.toRpm && plate >= misfire.fromPlate ? misfire.share : 0
}

/** lambda at a sensor behind a leak: its air joins that of the charge, and weighs less the more the engine breathes. */
export function lambdaAtSensor(lambda: number, leak: number, airPerSecond: number): number {
  return leak > 0 ? lambda * (1 + leak / Math.max(200, airPerSecond)) : lambda
}
