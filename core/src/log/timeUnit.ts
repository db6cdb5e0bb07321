import { median } from '../numbers/median'
import { isMilliseconds } from './milliseconds'

/** What the steps or the size of a time column make of its unit. */
export interface TimeUnit {
  /** s in one of its units */
  factor: number
  name: string
}

const SECONDS: TimeUnit = { factor: 1, name: 'seconds' }
const MILLISECONDS: TimeUnit = { factor: 1e-3, name: 'milliseconds' }
const MICROSECONDS: TimeUnit = { factor: 1e-6, name: 'microseconds' }

/** Times since 1970 by their size: what counts so far from nought is one. */
const SINCE_1970: readonly (readonly [above: number, unit: TimeUnit])[] = [
  [1e17, { factor: 1e-9, name: 'nanoseconds since 1970' }],
  [1e14, { factor: 1e-6, name: 'microseconds since 1970' }],
  [1e11, { factor: 1e-3, name: 'milliseconds since 1970' }],
]
/** Rows closer than this, in what would be seconds, are parts of a day, as spreadsheets count. */
const DAYS_BELOW = 1e-4
/** Rows further apart than this in what would be milliseconds follow each other by microseconds. */
const MICROSECONDS_ABOVE = 1000
/** Share of the range that speed moves by from row to row where rows follow each other closely. */
const CLOSE = 1 / 15

/**
 * The unit of times that none is said of: by their size where they count since 1970, else by the rate that is plausible for a log
 * of an engine.
 *
 * @param time as written, less the first, of the first rows; @param rpm beside it
 * @param first the first time as written
 */
export function timeUnit(time: readonly number[], rpm: readonly number[], first: number): TimeUnit {
  const since = SINCE_1970.find(([above]) => first > above)
  if (since) return since[1]
  const steps = time.slice(1).map((one, k) => one - time[k]!)
  const step = median(steps.filter((one) => one > 0))
  if (!(step > 0)) return SECONDS
  if (step < DAYS_BELOW) return { factor: 86_400, name: 'days' }
  if (step > MICROSECONDS_ABOVE) {
    const speeds = rpm.filter((one) => one > 0)
    const moves = speeds.slice(1).map((one, k) => Math.abs(one - speeds[k]!))
    const isClose = median(moves) <= CLOSE * (Math.max(...speeds) - Math.min(...speeds))
    return step > 60_000 || isClose ? MICROSECONDS : MILLISECONDS
  }
  return isMilliseconds(time, rpm) ? MILLISECONDS : SECONDS
}
