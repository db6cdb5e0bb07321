import { firstFrom } from '../run/firstFrom'
import { USUAL_RULES, type StripRules, type StripSplit } from './marks'
import { stripSplits } from './stripSplits'

/** Columns that a pass is found in, of one length; speed in km/h, NaN between its readings. */
export interface StripColumns {
  time: Float32Array
  speed: Float32Array
  throttle?: Float32Array | undefined
}

/** A pass at the strip, found in a log. */
export interface FoundPass {
  /** s of the run: when it began to move, and where looking for it ended */
  from: number
  to: number
  splits: StripSplit[]
  /** whether it was shut before its end */
  lifted: boolean
  /** m at which it was shut for good; null where it was not, or nothing tells */
  liftedAtM: number | null
}

/** km/h below which a machine stands, and that a pass must reach. */
const [STANDS, PASS] = [4, 50]
/** s that it stands before it leaves: a turn at walking pace is none. */
const STOOD = 0.8
/** s from leaving within which the first mark is passed, and a pass ends. */
const [FIRST_MARK, LONGEST] = [6, 40]
/** A pass is ridden at this share of the widest opening, or wider; shut for longer than a change of gear takes it was lifted, s. */
const [WIDE, SHUT] = [0.6, 0.7]
/** Without a throttle: it slows by this share of its speed, for as long. */
const SLOWS = 0.97

/**
 * Passes at the strip inside a log: from standing, wide open, until it is shut for good or its end is passed.
 *
 * @returns in their order; none where no speed tells of one
 * @example
 * passesIn({ time, speed, throttle })[0]?.splits.at(-1)?.timeS
 */
export function passesIn(columns: StripColumns, rules: StripRules = USUAL_RULES): FoundPass[] {
  const known = Int32Array.from(columns.speed.keys()).filter((row) => !Number.isNaN(columns.speed[row]!))
  const of = (column: Float32Array): Float32Array => Float32Array.from(known, (row) => column[row]!)
  const [time, speed] = [of(columns.time), of(columns.speed)]
  const throttle = columns.throttle && of(columns.throttle)
  const metres = speed.map((one) => one / 3.6)
  const widest = throttle ? throttle.reduce((most, one) => (one > most ? one : most), 0) : 0
  const found: FoundPass[] = []
  let [stood, row] = [-1, 0]
  while (row < time.length) {
    const v = speed[row]!
    if (v <= STANDS) {
      if (stood < 0) stood = row
      row++
    } else {
      const hasStood = stood >= 0 && time[row]! - time[stood]! >= STOOD
      stood = -1
      const end = hasStood ? endOf(time, speed, row) : -1
      const pass = end > row ? passFrom(time, speed, metres, throttle, widest, row, end, rules) : null
      if (pass) found.push(pass)
      if (pass) row = Math.max(row + 1, firstFrom(time, pass.to))
      else row++
    }
  }
  return found
}

/** Last row of what a launch may be: until it stands again, or too long after. */
function endOf(time: Float32Array, speed: Float32Array, row: number): number {
  let i = row
  while (i + 1 < time.length && time[i + 1]! - time[row]! <= LONGEST && !(speed[i + 1]! <= STANDS)) i++
  return i
}

function passFrom(
  time: Float32Array,
  speed: Float32Array,
  metres: Float32Array,
  throttle: Float32Array | undefined,
  widest: number,
  row: number,
  end: number,
  rules: StripRules,
): FoundPass | null {
  let fastest = 0
  for (let i = row; i <= end; i++) if (speed[i]! > fastest) fastest = speed[i]!
  if (fastest < PASS) return null
  const timed = stripSplits(time, metres, row, end, rules)
  const [first] = timed.splits
  if (!first || first.timeS > FIRST_MARK) return null
  if (throttle && !isWideSoon(time, throttle, widest, row)) return null
  const lift = throttle ? shutFrom(time, throttle, widest, row, end) : slowsFrom(time, speed, row, end)
  const liftedAtM = lift === null ? null : timed.distanceAt(time[lift]!)
  const lifted = liftedAtM !== null && liftedAtM < rules.endM - rules.trapM / 2
  const atEnd = timed.secondsAt(rules.endM)
  return {
    from: timed.from,
    to: atEnd ?? time[end]!,
    splits: timed.splits,
    lifted,
    liftedAtM: lifted ? liftedAtM : null,
  }
}

/** Whether the throttle is wide within two seconds of leaving. */
function isWideSoon(time: Float32Array, throttle: Float32Array, widest: number, row: number): boolean {
  for (let i = row; i < time.length && time[i]! <= time[row]! + 2; i++) if (throttle[i]! >= WIDE * widest) return true
  return false
}

/** Row from which the throttle is shut for longer than a change of gear takes; null where it never is. */
function shutFrom(time: Float32Array, throttle: Float32Array, widest: number, row: number, end: number): number | null {
  let [wide, shut] = [false, -1]
  for (let i = row; i <= end; i++) {
    if (throttle[i]! >= WIDE * widest) [wide, shut] = [true, -1]
    else if (wide && throttle[i]! < (WIDE * widest) / 2 && shut < 0) shut = i
    if (shut >= 0 && time[i]! - time[shut]! >= SHUT) return shut
  }
  return null
}

/** Row from which speed falls for good; null where it does not. */
function slowsFrom(time: Float32Array, speed: Float32Array, row: number, end: number): number | null {
  let top = row
  for (let i = row; i <= end; i++) {
    if (speed[i]! > speed[top]!) top = i
    if (speed[i]! < SLOWS * speed[top]! && time[i]! - time[top]! >= SHUT) return top
  }
  return null
}
