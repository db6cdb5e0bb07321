import { median } from '../numbers/median'

/** Step between rows, in what was read as seconds, that may be milliseconds instead. */
const STEP = [1, 1000] as const
/** rpm per second below which no engine moves through its range. */
const SLOWEST = 50
/** rpm per second above which none does on the whole: what would be as fast in milliseconds is in seconds. */
const FASTEST = 8000
/** Least span of engine speed, rpm, and rows, from which its pace can be told. */
const LEAST_SPAN = 500
const LEAST_ROWS = 30
/** Share of the span that engine speed moves by from row to row at most, where rows follow each other closely. */
const CLOSE = 1 / 15

/**
 * Whether times that were read as seconds are milliseconds: rows follow each other so closely that engine speed moves
 * smoothly, and yet in seconds it would creep through its range as no engine does.
 *
 * @param time as read, from the first row on; @param rpm beside it
 */
export function isMilliseconds(time: readonly number[], rpm: readonly number[]): boolean {
  if (time.length < LEAST_ROWS) return false
  const steps: number[] = []
  const moves: number[] = []
  let [low, high, fastest] = [Infinity, -Infinity, 0]
  for (let i = 1; i < time.length; i++) {
    const [step, move] = [time[i]! - time[i - 1]!, Math.abs(rpm[i]! - rpm[i - 1]!)]
    if (!(step > 0) || !(rpm[i]! > 0) || !(move >= 0)) continue
    steps.push(step)
    moves.push(move)
    low = Math.min(low, rpm[i]!)
    high = Math.max(high, rpm[i]!)
    fastest = Math.max(fastest, move / step)
  }
  const step = median(steps)
  return (
    steps.length >= LEAST_ROWS - 1 &&
    step >= STEP[0] &&
    step <= STEP[1] &&
    high - low >= LEAST_SPAN &&
    high - low <= FASTEST * 0.001 * (time.at(-1)! - time[0]!) &&
    fastest < SLOWEST &&
    median(moves) <= CLOSE * (high - low)
  )
}
