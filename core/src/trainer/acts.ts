import { sound, type RigFaults } from '../simulator/faults'

/** Something done to the machine or the rig with tools, not with tables. The same list is offered in every case. */
export interface WorkshopAct {
  id: string
  name: string
  /** min that it takes */
  minutes: number
  /** what of the machine it puts right, if it was wrong */
  mends: keyof RigFaults
}

export const WORKSHOP_ACTS: readonly WorkshopAct[] = [
  { id: 'plugs', name: 'Fit new spark plugs', minutes: 20, mends: 'misfire' },
  { id: 'joints', name: 'Seal the exhaust joints ahead of the sensor', minutes: 30, mends: 'leak' },
  { id: 'pump', name: 'Fit a new fuel pump', minutes: 50, mends: 'pump' },
  { id: 'wires', name: 'Trace the injector wires and put them right', minutes: 25, mends: 'wiring' },
  { id: 'injectors', name: 'Clean and match the injectors', minutes: 80, mends: 'injectors' },
  { id: 'gauge', name: 'Set the gauge to the fuel it should be scaled for', minutes: 5, mends: 'gauge' },
]

/** Faults left once some acts are done. */
export function faultsAfter(faults: Partial<RigFaults>, acts: readonly string[], cylinders: number): RigFaults {
  const whole = { ...sound(cylinders), ...faults }
  const mended = WORKSHOP_ACTS.filter((one) => acts.includes(one.id)).map((one) => one.mends)
  return { ...whole, ...Object.fromEntries(mended.map((key) => [key, sound(cylinders)[key]])) }
}
