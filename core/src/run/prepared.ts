import { meanAcross } from '../numbers/meanAcross'
import { runningMean } from '../numbers/runningMean'
import { closedLimit } from './closedLimit'
import { pinnedMarks } from './pinnedMarks'
import type { RunColumns } from './run'
import { movementOf, type Movement } from './settling'

/** What screening makes of a run whatever the filters and the lag. */
interface Prepared {
  /** throttle free of noise, and how it moves; null without */
  plate: Float32Array | null
  movement: Movement | null
  /** lambda, mean over the cylinders that have a reading */
  mixture: Float64Array
  /** by cylinder: 1 where its reading stands at its sensor's limit */
  pinned: Uint8Array[]
  /** opening at or under which the plate is shut */
  closed: number
}

/** By run, whose columns never change: a filter that is dragged screens the same runs again and again. */
const prepared = new WeakMap<RunColumns, Prepared>()

/** What screening makes of a run, made once. */
export function preparedOf(run: RunColumns): Prepared {
  const known = prepared.get(run)
  if (known) return known
  const { time, throttle, lambda } = run
  const plate = throttle ? runningMean(time, throttle) : null
  const made: Prepared = {
    plate,
    movement: plate && movementOf(time, plate),
    mixture: Float64Array.from(time, (_, i) => meanAcross(lambda, i)),
    pinned: lambda.map(pinnedMarks),
    closed: plate ? closedLimit(plate) : -Infinity,
  }
  prepared.set(run, made)
  return made
}
