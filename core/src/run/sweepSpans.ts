import { CLOSED_MARGIN, closedLimit } from './closedLimit'
import { isAtStop, stopOf } from './stopOf'

/** One sweep inside a log. */
export interface SweepSpan {
  /** rows of the log that belong to it, with what led to it and what followed: `from` to before `to` */
  from: number
  to: number
  /** % of plate; null without a throttle */
  stop: number | null
  /** rpm at its stop */
  fromRpm: number
  toRpm: number
}

/** s between two looks: noise of a channel is no turn of it. */
const LOOK = 0.1
/** Looks to either side that speed is averaged over. */
const AROUND = 2
/** rpm, or share of all that the log spans, by which speed must turn back for a turn. */
const TURN = { least: 500, share: 0.15 }
/** What a leg must be for a sweep: rpm, share of its lower end, and s at its stop. */
const SWEEP = { rpm: 1000, share: 1.3, seconds: 1.5 }
/** Share of it, with the plate open, that must be spent at the stop. */
const HELD = 0.6
/** Share of all that was ridden with the plate open that must be sweeps: a ride with a few among it stays one. */
const RIDE = 0.5
/** The same where no throttle tells how it was made. */
const BLIND = { rpm: 2000, share: 1.5, seconds: 2 }

/**
 * Sweeps inside a log: engine speed that rises, or falls under the load of a brake, at one open throttle stop, whatever lies
 * between them. The log is cut where speed turns before each, so that every row belongs to one of them.
 *
 * @param time s; @param rpm; @param throttle %; undefined where there is none; all of one length
 * @returns none where the log has fewer than two
 */
export function sweepSpans(time: Float32Array, rpm: Float32Array, throttle?: Float32Array): SweepSpan[] {
  const looks = looksOf(time)
  const speed = looks.map((_, k) => meanSpeed(rpm, looks, k))
  const closed = throttle ? closedLimit(throttle) : -Infinity
  const shut = throttle ? lowestOf(looks.map((i) => throttle[i]!)) + CLOSED_MARGIN : -Infinity
  let swept = 0
  const sweeps = legsOf(speed).flatMap((leg): (Leg & Omit<SweepSpan, 'from' | 'to'>)[] => {
    const rows = looks.slice(leg.from, leg.to + 1)
    if (!throttle) {
      // An engine that falls is driven, or not: no throttle tells.
      const isSweep = speed[leg.to]! > speed[leg.from]! && isWide(rows, time, rpm, BLIND)
      return isSweep ? [{ ...leg, stop: null, ...spanOf(rows, rpm) }] : []
    }
    // What falls at the lowest opening there is rolls out, also where that does not read as shut.
    const least = speed[leg.to]! > speed[leg.from]! ? closed : shut
    const open = rows.filter((i) => throttle[i]! > least)
    const stop = stopOf(open.map((i) => throttle[i]!))
    if (stop === null) return []
    const at = open.filter((i) => isAtStop(throttle[i]!, stop))
    // Ends that lie at the stop with a closed plate between them are no sweep.
    const between = at.length ? rows.lastIndexOf(at.at(-1)!) - rows.indexOf(at[0]!) + 1 : 0
    const isHeld = at.length >= HELD * Math.max(open.length, between)
    const isSweep = isHeld && isWide(at, time, rpm, SWEEP)
    if (isSweep) swept += at.length
    return isSweep ? [{ ...leg, stop: Math.round(10 * stop) / 10, ...spanOf(at, rpm) }] : []
  })
  const open = throttle ? looks.filter((i) => throttle[i]! > closed).length : 0
  if (sweeps.length < 2 || swept < RIDE * open) return []
  const cuts = sweeps.slice(1).map((next) => looks[next.from]!)
  return sweeps.map(({ stop, fromRpm, toRpm }, k) => ({
    from: cuts[k - 1] ?? 0,
    to: cuts[k] ?? time.length,
    stop,
    fromRpm,
    toRpm,
  }))
}

/** Lowest opening but for a hundredth of them. */
function lowestOf(openings: readonly number[]): number {
  const sorted = openings.filter((one) => one === one).sort((a, b) => a - b)
  return sorted[Math.floor(0.01 * sorted.length)] ?? 0
}

function isWide(rows: readonly number[], time: Float32Array, rpm: Float32Array, wanted: typeof SWEEP): boolean {
  if (rows.length === 0) return false
  const [first, last] = [rows[0]!, rows.at(-1)!]
  const { fromRpm, toRpm } = spanOf(rows, rpm)
  return (
    toRpm - fromRpm >= wanted.rpm && toRpm >= wanted.share * fromRpm && time[last]! - time[first]! >= wanted.seconds
  )
}

/** Speeds at both ends of a leg, the lower first. */
function spanOf(rows: readonly number[], rpm: Float32Array): Pick<SweepSpan, 'fromRpm' | 'toRpm'> {
  const [first, last] = [rpm[rows[0]!]!, rpm[rows.at(-1)!]!]
  return { fromRpm: Math.round(Math.min(first, last)), toRpm: Math.round(Math.max(first, last)) }
}

/** Rows of a log from one turn of speed to the next. */
export function legsIn(time: Float32Array, rpm: Float32Array): { from: number; to: number }[] {
  const looks = looksOf(time)
  return legsOf(looks.map((_, k) => meanSpeed(rpm, looks, k))).map(({ from, to }) => ({
    from: looks[from]!,
    to: looks[to]!,
  }))
}

function looksOf(time: Float32Array): number[] {
  const looks: number[] = []
  let next = -Infinity
  for (let i = 0; i < time.length; i++) {
    const t = time[i]!
    // A clock that begins anew is followed.
    if (t < next - LOOK - 1) next = t
    if (t < next) continue
    looks.push(i)
    next = t + LOOK
  }
  return looks
}

function meanSpeed(rpm: Float32Array, looks: readonly number[], k: number): number {
  let [sum, count] = [0, 0]
  for (let n = Math.max(0, k - AROUND); n <= Math.min(looks.length - 1, k + AROUND); n++) {
    const value = rpm[looks[n]!]!
    if (value === value) [sum, count] = [sum + value, count + 1]
  }
  return count ? sum / count : NaN
}

/** Looks from one turn of speed to the next. */
interface Leg {
  from: number
  to: number
}

/** Speed from turn to turn; what turns back by little is no turn. */
function legsOf(speed: readonly number[]): Leg[] {
  const known = speed.flatMap((value, k) => (value === value ? [k] : []))
  if (known.length === 0) return []
  const at = (k: number): number => speed[k]!
  let [least, most] = [Infinity, -Infinity]
  for (const k of known) [least, most] = [Math.min(least, at(k)), Math.max(most, at(k))]
  const turn = Math.max(TURN.least, TURN.share * (most - least))
  const legs: Leg[] = []
  // Until speed has moved either way, both the lowest and the highest may be the first turn.
  let [low, high] = [known[0]!, known[0]!]
  let way = 0
  for (const k of known) {
    if (way >= 0 && at(k) > at(high)) high = k
    if (way <= 0 && at(k) < at(low)) low = k
    if (way >= 0 && at(high) - at(k) > turn) {
      if (way > 0) legs.push({ from: low, to: high })
      ;[way, low] = [-1, k]
    } else if (way <= 0 && at(k) - at(low) > turn) {
      if (way < 0) legs.push({ from: high, to: low })
      ;[way, high] = [1, k]
    }
  }
  return way > 0 ? [...legs, { from: low, to: high }] : way < 0 ? [...legs, { from: high, to: low }] : legs
}
