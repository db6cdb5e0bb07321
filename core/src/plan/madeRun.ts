/** A run there is, as it would be asked for. `fromRpm` above `toRpm` is a sweep down; equal is a hold. */
export interface MadeRun {
  kind: 'sweep' | 'hold'
  /** throttle stop, % of plate */
  load: number
  fromRpm: number
  toRpm: number
}
