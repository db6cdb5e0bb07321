import { isRunning } from '../../run/engineState'
import { preparedOf } from '../../run/prepared'
import { DEFAULT_FILTERS, type Filters, type RunColumns } from '../../run/run'
import { settlingMarks } from '../../run/settling'

/** How steady the mixture of some runs is. */
export interface Steadiness {
  /** scatter over 0.3 to 2 s, without the trend: standard deviation, % of lambda */
  pct: number
  /** degrees of freedom of its square */
  freedom: number
  /** s of readings that it rests on */
  seconds: number
}

/** s of one mean, and how many of them the trend is drawn over: 2.1 s. */
const MEAN = 0.3
const TREND = 7
const HALF = (TREND - 1) / 2

/**
 * Scatter of the mixture with the throttle still: what is left of means over 0.3 s once the trend over 2 s is taken out. What is
 * quicker is the sensor's noise, what is slower the engine's need. A pump or a regulator that hunts shows here first.
 *
 * @returns null where no stretch is long enough
 * @example
 * steadinessOf([run])?.pct
 */
export function steadinessOf(runs: readonly RunColumns[], filters: Filters = DEFAULT_FILTERS): Steadiness | null {
  let [squares, count] = [0, 0]
  for (const run of runs)
    for (const means of stretches(run, filters))
      for (let i = HALF; i < means.length - HALF; i++) {
        let trend = 0
        for (let k = i - HALF; k <= i + HALF; k++) trend += means[k]! / TREND
        squares += (means[i]! / trend - 1) ** 2
        count++
      }
  if (count < TREND) return null
  // A mean that is part of its own trend shows one seventh less of its square.
  const share = 1 - 1 / TREND
  return { pct: 100 * Math.sqrt(squares / (count * share)), freedom: count * share, seconds: count * MEAN }
}

/** Means over 0.3 s of each stretch of readings with the throttle still and no gap. */
function stretches(run: RunColumns, filters: Filters): number[][] {
  if (run.handRange) return []
  const { time, rpm } = run
  const { plate, movement, mixture, pinned } = preparedOf(run)
  const moving = plate ? settlingMarks(time, plate, filters, movement!) : null
  const found: number[][] = []
  let means: number[] = []
  let [sum, count, from] = [0, 0, NaN]
  const close = (): void => {
    if (means.length >= TREND) found.push(means)
    means = []
    ;[sum, count, from] = [0, 0, NaN]
  }
  for (let i = 0; i < time.length; i++) {
    const counts = mixture[i]! > 0 && isRunning(rpm[i]!) && moving?.[i] !== 1 && pinned.every((marks) => marks[i] !== 1)
    if (!counts || (i > 0 && !(time[i]! - time[i - 1]! < MEAN))) close()
    if (!counts) continue
    if (Number.isNaN(from)) from = time[i]!
    if (time[i]! - from >= MEAN) {
      if (count) means.push(sum / count)
      ;[sum, count, from] = [0, 0, time[i]!]
    }
    sum += mixture[i]!
    count++
  }
  close()
  return found
}
