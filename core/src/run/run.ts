import type { Stretch } from './stretches'
import type { InForce } from '../table/inForce'

/** Columns of a run over time, in the core's units; NaN where there is no reading. All of one length. */
export interface RunColumns {
  id: string
  /** s, from the start of the run */
  time: Float32Array
  rpm: Float32Array
  /** % of plate opening */
  throttle?: Float32Array
  /** kPa absolute */
  manifold?: Float32Array
  /** One per cylinder or bank. */
  lambda: Float32Array[]
  /** lambda that the controller asked for, as it logged it */
  commanded?: Float32Array
  /** °C */
  coolant?: Float32Array
  /** closed-loop corrections at work, % */
  trimShort?: Float32Array
  trimLong?: Float32Array
  /** as the rig gave them: N·m, kW, drum rpm */
  torque?: Float32Array
  power?: Float32Array
  drum?: Float32Array
  /** degrees before top dead centre, and the knock level as the rig tells it */
  spark?: Float32Array
  knock?: Float32Array
  /** the hand on the twist grip, %, where the plate is moved by a motor; riding mode and gear as the controller numbers them */
  grip?: Float32Array
  mode?: Float32Array
  gear?: Float32Array
  /** what else was read, by channel: exhaust gas by cylinder, duty, heads, oil */
  beside?: Record<string, Float32Array>
  /** where the sensor sat; not said means close to the port */
  sensorPlace?: SensorPlace
  /** parts that somebody left out by time, s: their readings are none */
  without?: readonly { from: number; to: number }[]
  /** a ride: the few long sweeps among it are curves of their own */
  isRide?: boolean
  /** what its parts are, where somebody split or joined them, s */
  stretches?: readonly Stretch[]
  /** a span of rpm that somebody left out by hand */
  leftOut?: RpmBand
  /** Readings taken by hand, one a row: each settled before it was written down. Half width of the range, lambda. */
  handRange?: Float32Array
}

/** A span of engine speed, ends included. */
export interface RpmBand {
  fromRpm: number
  toRpm: number
}

export const SENSOR_PLACES = ['header', 'tailpipe'] as const
/** In the header close to the port, or a tube up the tailpipe, which reads lean where little gas flows. */
export type SensorPlace = (typeof SENSOR_PLACES)[number]

/** Why a reading is set aside, in the order in which reasons are asked; the first that holds is the one counted. */
export const REASONS = [
  'no reading',
  'time runs backwards',
  'gap in the log',
  'engine not running',
  'sensor at its limit',
  'engine cold',
  'above the rev ceiling',
  'fuel cut',
  'throttle moving',
  'outside the table',
  'other map in force',
  'warm-up run',
  'odd band',
  'left out by hand',
  'misfire',
] as const
export type Reason = (typeof REASONS)[number]

/** Counts of readings set aside by reason; reasons that took none are absent. */
export type SetAside = Partial<Record<Reason, number>>

/** What to set aside, and how wide around it. */
export interface Filters {
  /** Throttle counts as moving above this, % per second. */
  throttleRate: number
  /** Seconds set aside after the throttle came to rest. */
  settle: number
  /** Coolant below this is a cold engine, °C. */
  coolantLeast: number
  /** Readings above this rpm are set aside; null for no ceiling. */
  revCeiling: number | null
  /** Readings made while another map of the controller ruled are set aside; all count where one table rules all. */
  inForce?: InForce | null | undefined
}

export const DEFAULT_FILTERS: Filters = { throttleRate: 15, settle: 1.0, coolantLeast: 60, revCeiling: null }
