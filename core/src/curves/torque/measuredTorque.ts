import { refused } from '../../refusal/refusal'
import type { RunColumns } from '../../run/run'
import { torqueNm } from './powerUnits'
import { savitzkyGolay } from '../../numbers/savitzkyGolay'

export const TORQUE_SOURCES = ['torque', 'power', 'drum'] as const
/** What torque is taken from: its own column, a power column, or a drum's speed and inertia. */
export type TorqueSource = (typeof TORQUE_SOURCES)[number]

/** A rig as far as torque is concerned. */
export interface Drum {
  /** kg·m²; of the drum and all that turns with it */
  inertia: number | null
  /** s over which the drum's speed is fitted to get its acceleration */
  window: number
}

export const DEFAULT_DRUM: Drum = { inertia: null, window: 0.4 }

export interface MeasuredTorque {
  source: TorqueSource
  /** N·m at the engine's speed, uncorrected; by sample */
  torque: Float32Array
  /** in words, for the drawer */
  how: string
}

/**
 * Torque of a run, referred to engine speed and not corrected for weather.
 *
 * A drum's power is P = I w dw/dt with dw/dt by Savitzky-Golay over the window; the engine's torque is P over the
 * engine's own angular speed, so the gear drops out and losses of the drive stay in.
 *
 * @param source null takes the first that the run has: torque, power, drum with an inertia
 * @returns null when the run has none of them
 * @throws Refusal 'no-torque' when the source that was asked for is missing, or the inertia is not above zero
 * @see SAE J1349 for the terms
 */
export function measuredTorque(
  run: RunColumns,
  drum: Drum = DEFAULT_DRUM,
  source: TorqueSource | null = null,
): MeasuredTorque | null {
  if (source && !run[source]) throw refused('no-torque', `This run has no ${source} column.`, 'torque')
  if (source === 'drum') checkInertia(drum)
  const taken = source ?? TORQUE_SOURCES.find((one) => run[one] && (one !== 'drum' || drum.inertia !== null)) ?? null
  if (taken === null) return null
  const { rpm } = run
  if (taken === 'torque') return { source: taken, torque: run.torque!, how: 'torque column' }
  if (taken === 'power')
    return {
      source: taken,
      torque: run.power!.map((kw, i) => torqueNm(kw, rpm[i]!)),
      how: 'power column over engine speed',
    }
  checkInertia(drum)
  return {
    source: taken,
    torque: drumTorque(run, drum),
    how: `drum of ${drum.inertia} kg·m², its speed fitted over ${drum.window} s`,
  }
}

function checkInertia({ inertia }: Drum): void {
  if (inertia === null || !(inertia > 0))
    throw refused('no-torque', 'Torque from a drum needs its inertia in kg·m², above zero.', 'torque')
}

const RAD_PER_RPM = Math.PI / 30

function drumTorque({ time, rpm, drum }: RunColumns, { inertia, window }: Drum): Float32Array {
  const n = time.length
  const step = (time[n - 1]! - time[0]!) / (n - 1)
  const points = Math.max(5, 2 * Math.floor(window / step / 2) + 1)
  if (!(step > 0) || n < points)
    throw refused('no-torque', `The run is too short to fit the drum's speed over ${window} s.`, 'torque')
  const speed = evenly(time, drum!, step)
  const slope = savitzkyGolay(speed, points, 2, 1, step)
  const out = new Float32Array(n)
  for (let i = 0; i < n; i++) {
    const at = Math.min(n - 1, Math.max(0, Math.round((time[i]! - time[0]!) / step)))
    const watt = inertia! * speed[at]! * slope[at]!
    out[i] = rpm[i]! > 0 ? watt / (rpm[i]! * RAD_PER_RPM) : NaN
  }
  return out
}

/** Drum speed in rad/s at even steps of time, by straight lines between readings. */
function evenly(time: Float32Array, drum: Float32Array, step: number): Float64Array {
  const n = time.length
  const out = new Float64Array(n)
  let k = 0
  for (let i = 0; i < n; i++) {
    const t = time[0]! + i * step
    while (k < n - 2 && time[k + 1]! <= t) k++
    const share = (t - time[k]!) / (time[k + 1]! - time[k]!)
    out[i] = RAD_PER_RPM * (drum[k]! + Math.min(1, Math.max(0, share || 0)) * (drum[k + 1]! - drum[k]!))
  }
  return out
}
