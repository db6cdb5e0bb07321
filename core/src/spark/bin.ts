import type { RunColumns } from '../run/run'
import type { SparkPoint } from './fitAdvance'
import type { SettingRun } from './setting'

/** A run with its columns, as the fit of the advance takes it. */
export interface SparkRun {
  columns: RunColumns
  run: SettingRun
}

/** A setting measured once, and in which run. */
export interface MeasuredPoint extends SparkPoint {
  run: string
  /** when that run was made, ISO */
  at: string
}

/** Settings measured at one throttle stop and engine speed. */
export interface SparkBin {
  /** % of plate; null where the throttle was not logged */
  stop: number | null
  rpm: number
  /** stepped while stop and speed were held, or swept at one setting after the other */
  source: 'steps' | 'sweeps'
  /** the advance is a setting of the whole engine, not what it had at this speed */
  isStatic: boolean
  /** in the order in which they were run */
  points: MeasuredPoint[]
  /** advance where nothing was changed, degrees */
  present: number
  /** when that was read, ISO */
  presentAt: string
  hasKnockChannel: boolean
  /** least advance at which knock was met too soon for torque to be told; null for none */
  knockFrom: number | null
}

/** Name of a bin, the same for the same place. */
export function binKey({ stop, rpm, source }: Pick<SparkBin, 'stop' | 'rpm' | 'source'>): string {
  return `${source} ${stop ?? '-'} ${rpm}`
}

/** Degrees over what is there now at which knock was first met, with a torque or too soon for one; infinite for none. */
export function knockOffset({ points, knockFrom, present }: SparkBin): number {
  return Math.min(knockFrom ?? Infinity, ...points.filter((one) => one.knock).map((one) => one.advance)) - present
}
