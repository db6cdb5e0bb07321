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
    for (const { off } of departures(run, filters)) {
      squares += off ** 2
      count++
    }
  return count < TREND ? null : steadinessFrom(squares, count)
}

/** How steady so many means are, by the sum of the squares of their departures. */
export function steadinessFrom(squares: number, count: number): Steadiness {
  // A mean that is part of its own trend shows one seventh less of its square.
  const share = 1 - 1 / TREND
  return { pct: 100 * Math.sqrt(squares / (count * share)), freedom: count * share, seconds: count * MEAN }
}

/** Departures of means over 0.3 s from the trend over 2 s about them, as a share, each at its time, s. */
export function departures(run: RunColumns, filters: Filters = DEFAULT_FILTERS): { at: number; off: number }[] {
  return stretches(run, filters).flatMap((means) => {
    const found: { at: number; off: number }[] = []
    for (let i = HALF; i < means.length - HALF; i++) {
      let trend = 0
      for (let k = i - HALF; k <= i + HALF; k++) trend += means[k]!.mean / TREND
      found.push({ at: means[i]!.at, off: means[i]!.mean / trend - 1 })
    }
    return found
  })
}

/** A mean, and when it began, s. */
interface Mean {
  at: number
  mean: number
}

/** Means over 0.3 s of each stretch of readings with the throttle still and no gap. */
function stretches(run: RunColumns, filters: Filters): Mean[][] {
  if (run.handRange) return []
  const { time, rpm } = run
  const { plate, movement, mixture, pinned } = preparedOf(run)
  const moving = plate ? settlingMarks(time, plate, filters, movement!) : null
  const found: Mean[][] = []
  let means: Mean[] = []
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
      if (count) means.push({ at: from, mean: sum / count })
      ;[sum, count, from] = [0, 0, time[i]!]
    }
    sum += mixture[i]!
    count++
  }
  close()
  return found
}
