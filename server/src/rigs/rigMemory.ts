import type { ControllerWays, Matrix, SensorCalibration } from '@yuzumix/core'

/** What a simulated rig remembers when its power is off. */
export interface RigMemory {
  /** what was in the controller before the first write ever, and what is kept in it */
  first: Matrix[]
  kept: Matrix[]
  /** the same of the settings beside its tables; absent in a memory from before there were any */
  ways?: { first: ControllerWays; kept: ControllerWays }
  sensors: SensorCalibration
  /** false after a write that was cut off, until it is recovered */
  readable: boolean
}
