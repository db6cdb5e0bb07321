import type { Matrix, SensorCalibration } from '@yuzumix/core'

/** What a simulated rig remembers when its power is off. */
export interface RigMemory {
  /** what was in the controller before the first write ever, and what is kept in it */
  first: Matrix[]
  kept: Matrix[]
  sensors: SensorCalibration
  /** false after a write that was cut off, until it is recovered */
  readable: boolean
}
