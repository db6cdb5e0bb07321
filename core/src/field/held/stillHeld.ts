import type { LoadGrid } from '../../table/table'
import type { HeldZone } from './heldZones'
import { markHeld } from './markHeld'
import { BIN } from '../readings/rowBins'
import type { Samples } from '../readings/samples'

/** Level of ln lambda, by its mean over passes, beyond which no loop holds it; a loop that hunts is at lambda 1 in the mean. */
const OFF = 0.02
/** The same in standard errors, and the least such error: gauges differ from day to day. */
const ERRORS = 3
const LEAST_ERROR = 0.004
/** Passes that must say so, and readings of each. */
const LEAST_PASSES = 2
const LEAST_READINGS = 8

/**
 * Whether a zone that was held before may still be: given up only where several passes read another mixture inside it, in
 * every cylinder and in their mean.
 *
 * @param columns readings of cylinders, and of their mean, by sample
 */
export function isStillHeld(
  grid: LoadGrid,
  samples: Samples,
  columns: readonly Float32Array[],
  zone: HeldZone,
): boolean {
  // Where the sensor smears the edge nothing is told.
  const inner = { ...zone, fromRpm: zone.fromRpm + BIN, toRpm: zone.toRpm - BIN }
  const { held } = markHeld(grid, samples, [inner])
  return columns.some((column) => {
    const levels = levelsByRun(samples.run, column, held)
    if (levels.length < LEAST_PASSES) return true
    const mean = levels.reduce((sum, one) => sum + one, 0) / levels.length
    const square = levels.reduce((sum, one) => sum + (one - mean) ** 2, 0) / (levels.length - 1)
    const error = Math.max(LEAST_ERROR, Math.sqrt(square / levels.length))
    return Math.abs(mean) < Math.max(OFF, ERRORS * error)
  })
}

/** Mean of ln lambda among the marked samples, by run. */
function levelsByRun(run: Samples['run'], column: Float32Array, held: Uint8Array): number[] {
  const sums = new Map<number, [sum: number, count: number]>()
  for (let i = 0; i < held.length; i++) {
    if (!held[i] || !(column[i]! > 0)) continue
    const one = sums.get(run[i]!) ?? [0, 0]
    one[0] += Math.log(column[i]!)
    one[1]++
    sums.set(run[i]!, one)
  }
  return [...sums.values()].flatMap(([sum, count]) => (count < LEAST_READINGS ? [] : [sum / count]))
}
