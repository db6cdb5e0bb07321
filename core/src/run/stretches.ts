import { closedLimit } from './closedLimit'
import { firstFrom } from './firstFrom'
import { throttleMoves } from './throttleMoves'

/** What a part of a log is. */
export const STRETCH_KINDS = ['sweep', 'hold', 'roll-on', 'chop', 'overrun', 'idle'] as const
export type StretchKind = (typeof STRETCH_KINDS)[number]

/** A part of a log, s of its run. */
export interface Stretch {
  kind: StretchKind
  from: number
  to: number
}

/** Longest that an opening or a closing is looked after, s. */
const LONGEST_MOVE = 2
/** % of plate that an opening must be, and a closing to the stop. */
const LEAST_OPENING = 8
const LEAST_CHOP = 8
/** A sweep: rpm it rises by, as a share of its lower end, and s. */
const SWEEP = { rpm: 1000, share: 1.25, seconds: 1.2 }
/** Share of a sweep's range by which speed may fall back within it. */
const FALLS_BACK = 0.1
/** A hold: speed within this share of its mean, s. */
const HOLD = { share: 0.025, rpm: 60, seconds: 2 }
/** Shut: rpm below which an engine idles, rpm per second by which it still settles, s. */
const IDLE = { most: 2200, slope: 250, seconds: 2 }
const LEAST_OVERRUN = 0.4
/** s over which speed is averaged. */
const AVERAGED = 0.2

/**
 * Stretches inside a log: sweeps (speed rises at a throttle that stands, until it moves), holds, roll-ons (from the first movement
 * of an opening until the throttle moves again, two seconds at the most), chops, overruns (shut until it is opened, or the engine
 * idles) and idling. An opening and the sweep that follows it overlap.
 *
 * @param time s, rising; @param rpm; @param throttle %
 * @returns in order of their starts
 * @example
 * stretchesOf(time, rpm, throttle).filter((one) => one.kind === 'sweep')
 */
export function stretchesOf(time: Float32Array, rpm: Float32Array, throttle: Float32Array): Stretch[] {
  if (time.length < 3) return []
  const speed = averaged(time, rpm)
  const closed = closedLimit(throttle)
  const moves = throttleMoves(time, throttle)
  const ends = [...moves.map((one) => one.from), time.length - 1]
  const starts = [0, ...moves.map((one) => one.to)]
  const found: Stretch[] = []
  moves.forEach(({ from, to, way }, k) => {
    const next = time[ends[k + 1]!]!
    const until = Math.min(next, time[from]! + LONGEST_MOVE)
    const [before, after] = [throttle[Math.max(0, from - 1)]!, throttle[Math.min(time.length - 1, to + 1)]!]
    if (way > 0 && after - before >= LEAST_OPENING && until - time[to]! > AVERAGED)
      found.push({ kind: 'roll-on', from: time[from]!, to: until })
    if (way < 0 && before - after >= LEAST_CHOP && after <= closed)
      found.push({ kind: 'chop', from: time[from]!, to: until })
  })
  starts.forEach((from, k) => {
    const to = ends[k]!
    if (to <= from) return
    const level = throttle[(from + to) >> 1]!
    found.push(...(level <= closed ? shutParts(time, speed, from, to) : openParts(time, speed, from, to)))
  })
  return found.sort((a, b) => a.from - b.from)
}

/** What an engine does at a shut throttle: it is driven, then idles. */
function shutParts(time: Float32Array, speed: Float32Array, from: number, to: number): Stretch[] {
  let idles = from
  while (idles < to && !(speed[idles]! < IDLE.most && speed[idles]! > 300 && isSettled(time, speed, idles))) idles++
  const parts: Stretch[] = []
  const [start, end] = [time[from]!, time[Math.min(idles, to)]!]
  if (end - start >= LEAST_OVERRUN && speed[from]! > IDLE.most) parts.push({ kind: 'overrun', from: start, to: end })
  if (idles < to && time[to]! - time[idles]! >= IDLE.seconds)
    parts.push({ kind: 'idle', from: time[idles]!, to: time[to]! })
  return parts
}

/** Whether speed stands from a row on, over half a second. */
function isSettled(time: Float32Array, speed: Float32Array, row: number): boolean {
  const later = Math.min(time.length - 1, firstFrom(time, time[row]! + 0.5))
  return later > row && Math.abs(speed[later]! - speed[row]!) / (time[later]! - time[row]!) < IDLE.slope
}

/** Sweeps and holds at a throttle that stands open. */
function openParts(time: Float32Array, speed: Float32Array, from: number, to: number): Stretch[] {
  const holds = holdsIn(time, speed, from, to)
  const parts: Stretch[] = holds.map((one) => ({ kind: 'hold', from: time[one.from]!, to: time[one.to]! }))
  // What lies between holds may rise.
  const bounds = [from, ...holds.flatMap((one) => [one.from, one.to]), to]
  for (let k = 0; k < bounds.length; k += 2) {
    const sweep = riseIn(time, speed, bounds[k]!, bounds[k + 1]!)
    if (sweep) parts.push(sweep)
  }
  return parts
}

/** The rise of speed between two rows, from its lowest to its highest; null where it is none. */
function riseIn(time: Float32Array, speed: Float32Array, from: number, to: number): Stretch | null {
  let low = from
  let best = { low: from, high: from }
  for (let i = from; i <= to; i++) {
    if (speed[i]! < speed[low]!) low = i
    if (speed[i]! - speed[low]! > speed[best.high]! - speed[best.low]!) best = { low, high: i }
  }
  const [lowest, highest] = [speed[best.low]!, speed[best.high]!]
  const rise = highest - lowest
  const isSweep =
    rise >= SWEEP.rpm &&
    highest >= SWEEP.share * lowest &&
    time[best.high]! - time[best.low]! >= SWEEP.seconds &&
    lowest > 300
  if (!isSweep) return null
  let top = lowest
  for (let i = best.low; i <= best.high; i++) {
    top = Math.max(top, speed[i]!)
    if (top - speed[i]! > FALLS_BACK * rise + 150) return null
  }
  // Held at its end by a limiter or the brake it is still the same sweep, until the throttle moves.
  const end = time[to]! - time[best.high]! < 1 ? to : best.high
  return { kind: 'sweep', from: time[best.low]!, to: time[end]! }
}

/** Longest runs of rows in which speed keeps within a band, each long enough for a hold; as quick however long they are. */
function holdsIn(time: Float32Array, speed: Float32Array, from: number, to: number): { from: number; to: number }[] {
  const holds: { from: number; to: number }[] = []
  const close = (start: number, end: number): void => {
    const first = Math.max(start, (holds.at(-1)?.to ?? -1) + 1)
    if (end > first && time[end]! - time[first]! >= HOLD.seconds && speed[first]! > 300)
      holds.push({ from: first, to: end })
  }
  // Rows whose speed may yet be the least, or the most, of those that follow from `start`.
  const [low, high]: [number[], number[]] = [[], []]
  let [start, lowAt, highAt] = [from, 0, 0]
  for (let i = from; i <= to; i++) {
    while (low.length > lowAt && speed[low.at(-1)!]! >= speed[i]!) low.pop()
    while (high.length > highAt && speed[high.at(-1)!]! <= speed[i]!) high.pop()
    low.push(i)
    high.push(i)
    const isWide = (): boolean => {
      const most = speed[high[highAt]!]!
      return most - speed[low[lowAt]!]! > 2 * Math.max(HOLD.rpm, HOLD.share * most)
    }
    if (isWide()) close(start, i - 1)
    while (isWide()) {
      start++
      if (low[lowAt]! < start) lowAt++
      if (high[highAt]! < start) highAt++
    }
  }
  close(start, to)
  return holds
}

/** Speed as a mean over a short while; missing readings are passed over. */
function averaged(time: Float32Array, rpm: Float32Array): Float32Array {
  const out = new Float32Array(rpm.length)
  let [from, to, sum, count] = [0, 0, 0, 0]
  for (let i = 0; i < rpm.length; i++) {
    while (to < rpm.length && (to <= i || time[to]! <= time[i]! + AVERAGED / 2)) {
      const value = rpm[to++]!
      if (value === value) [sum, count] = [sum + value, count + 1]
    }
    while (from < i && time[from]! < time[i]! - AVERAGED / 2) {
      const value = rpm[from++]!
      if (value === value) [sum, count] = [sum - value, count - 1]
    }
    out[i] = count ? sum / count : (out[i - 1] ?? 0)
  }
  return out
}
