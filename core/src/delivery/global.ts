import { percentFromFactor } from '../fuel/mixture'
import { floorOf, oneFactor } from './oneFactor'
import { pointsOf } from './points'
import { cellsUnderLoad, type Wanted } from './wanted'

/** One percent for the whole range. */
export interface GlobalTrim {
  pct: number
}

/**
 * The one percent that leaves the least cost while no cell from 70 % load up is left more than 2 % lean; and what it would be
 * without that rule.
 *
 * @throws RangeError when nothing is wanted
 */
export function fitGlobal(wanted: Wanted): { ruled: GlobalTrim; free: GlobalTrim } {
  const points = pointsOf(wanted)
  const floors = cellsUnderLoad(wanted).map((one) => floorOf(one.factor))
  return {
    ruled: { pct: percentFromFactor(oneFactor(points, Math.max(0, ...floors)).factor) },
    free: { pct: percentFromFactor(oneFactor(points).factor) },
  }
}
