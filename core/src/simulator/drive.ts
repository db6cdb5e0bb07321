import type { Brake } from '../rig/controls'

/** What turns with the engine and what holds it back. */
export interface Drive {
  /** kg·m² of crank, clutch and flywheel at the crank */
  engineInertia: number
  /** kg·m² of the drum and all that turns with it */
  drumInertia: number
  /** turns of the engine for one of the drum, by gear from 1 */
  ratios: readonly number[]
  /** N·m at the drum that the brake can absorb */
  mostBrake: number
}

export interface DriveState {
  /** of the engine */
  rpm: number
  /** 0 for neutral */
  gear: number
  brake: Brake
  /** rpm the brake holds to just now; follows a sweep */
  setpoint: number
  integral: number
}

const RAD_PER_RPM = Math.PI / 30
/** N·m at the engine per rpm above the setpoint, and per rpm and second. */
const KP = 0.22
const KI = 0.35

/** kg·m² felt at the crank in a gear. */
export function inertiaAtCrank(drive: Drive, gear: number): number {
  const ratio = drive.ratios[gear - 1]
  return drive.engineInertia + (ratio ? drive.drumInertia / ratio ** 2 : 0)
}

/**
 * Turns the drive on over a time step: J dw/dt = torque of the engine less that of the brake.
 *
 * @param torque N·m of the engine at the crank
 * @returns N·m that the brake took, at the crank
 */
export function stepDrive(drive: Drive, state: DriveState, torque: number, dt: number): number {
  const braked = state.gear > 0 ? brakeTorque(drive, state, dt) : 0
  const inertia = inertiaAtCrank(drive, state.gear)
  state.rpm = Math.max(0, state.rpm + (((torque - braked) / inertia) * dt) / RAD_PER_RPM)
  return braked
}

function brakeTorque(drive: Drive, state: DriveState, dt: number): number {
  const { brake } = state
  if (brake.kind === 'off') {
    state.integral = 0
    state.setpoint = state.rpm
    return 0
  }
  if (brake.kind === 'hold') state.setpoint = brake.rpm
  else {
    const step = brake.rate * dt
    const left = brake.toRpm - state.setpoint
    state.setpoint += Math.abs(left) < Math.abs(step) ? left : Math.abs(step) * Math.sign(left)
  }
  const over = state.rpm - state.setpoint
  const most = drive.mostBrake / (drive.ratios[state.gear - 1] ?? 1)
  const wanted = KP * over + state.integral
  // The integral stands still while the brake is at an end, so it does not wind up.
  if ((wanted > 0 || over > 0) && (wanted < most || over < 0)) state.integral += KI * over * dt
  state.integral = Math.min(most, Math.max(0, state.integral))
  return Math.min(most, Math.max(0, wanted))
}
