/** What the brake is asked to do. It can only absorb. */
export type Brake = { kind: 'off' } | { kind: 'hold'; rpm: number } | { kind: 'sweep'; toRpm: number; rate: number }

/** What a person at the rig sets. */
export interface RigControls {
  /** % of plate, or of the grip where a motor moves the plate */
  throttle: number
  brake: Brake
  /** 0 for neutral */
  gear: number
  fan: boolean
  ignition: boolean
  fuel: boolean
  /** degrees added to the controller's advance */
  sparkOffset: number
  /** percent of fuel added to what the controller's tables ask for */
  fuelOffset: number
  /** riding mode, from 0 */
  mode: number
}

export const RESTING: RigControls = {
  throttle: 0,
  brake: { kind: 'off' },
  gear: 0,
  fan: true,
  ignition: false,
  fuel: false,
  sparkOffset: 0,
  fuelOffset: 0,
  mode: 0,
}
