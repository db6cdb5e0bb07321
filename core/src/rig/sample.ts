/** One reading of everything, in the core's units. */
export interface RigSample {
  /** s since the rig was switched on */
  time: number
  rpm: number
  throttle: number
  lambda: number[]
  /** N·m at the crank, as brake and drum tell it */
  torque: number
  drum: number
  coolant: number
  intake: number
  battery: number
  knock: number
  trimShort: number
  spark: number
  /** kPa absolute, where the rig measures it */
  manifold?: number
  /** lambda that the controller aims at, where it tells */
  commanded?: number
  /** the hand, %, and the riding mode, where a motor moves the plate */
  grip?: number
  mode?: number
  /** what else a source of lines tells, by channel */
  others?: Record<string, number>
}
