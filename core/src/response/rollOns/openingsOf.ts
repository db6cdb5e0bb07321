import { isRunning } from '../../run/engineState'
import { median } from '../../numbers/median'
import { firstFrom } from '../../run/firstFrom'
import type { RunColumns } from '../../run/run'

/** One opening of the throttle in a run. Times in s of the run, openings in %. */
export interface ThrottleOpening {
  run: string
  /** when the throttle began to move */
  at: number
  /** when it came to rest at the new opening */
  opened: number
  /** s of the run in which nothing but this opening happened: still before it, not moved again after it */
  from: number
  until: number
  /** engine speed as it began */
  rpm: number
  fromLoad: number
  toLoad: number
  /** % per second */
  rate: number
}

/** Least opening, %, and least speed of one, % per second: below lies a hand that wanders. */
const LEAST_RISE = 4
const LEAST_RATE = 12
/** s to either side over which the throttle's speed is taken; at least one sample. */
const HALF = 0.06
/** s without movement that end an opening. */
const REST = 0.12
/** s before and after that are looked at. */
const BEFORE = 0.8
const AFTER = 3
/** Noise of the throttle that is no movement, in standard deviations of its speed. */
const ABOVE_NOISE = 5

/** Every opening of the throttle in a run, in order; none without a throttle. */
export function openingsOf(run: RunColumns): ThrottleOpening[] {
  const { time, throttle } = run
  if (!throttle || run.handRange) return []
  const n = time.length
  const speed = speedOf(time, throttle)
  const limit = Math.max(LEAST_RATE, ABOVE_NOISE * noiseOf(speed))
  const moves = movesOf(time, speed, limit)
  return moves.flatMap(({ from, to, way }, k): ThrottleOpening[] => {
    if (way < 0) return []
    const [earlier, later] = [moves[k - 1], moves[k + 1]]
    const start = Math.max(time[from]! - BEFORE, earlier ? time[earlier.to]! : time[0]!)
    const end = Math.min(time[to]! + AFTER, later ? time[later.from]! : time[n - 1]!)
    const [before, after] = [rows(time, start, time[from]! - 1e-6), rows(time, time[to]! + 1e-6, end)]
    const shut = levelOf(throttle, before.slice(-8), throttle[from]!)
    const open = levelOf(throttle, after.slice(0, 8), throttle[to]!)
    if (!(open - shut >= LEAST_RISE)) return []
    const first = Math.max(0, from - 1)
    const [at10, at50, at90] = [0.1, 0.5, 0.9].map((share) =>
      crossing(time, throttle, first, Math.min(n - 1, to + 1), shut + share * (open - shut)),
    ) as [number, number, number]
    const at = Math.max(at10 - (at50 - at10) / 4, time[first]! - 0.02)
    const opened = Math.max(at + 0.01, at90 + (at90 - at50) / 4)
    const rpm = rpmAt(run, at)
    if (!isRunning(rpm)) return []
    return [
      {
        run: run.id,
        at,
        opened,
        from: Math.min(start, at),
        until: Math.max(end, opened),
        rpm,
        fromLoad: shut,
        toLoad: open,
        rate: (open - shut) / (opened - at),
      },
    ]
  })
}

interface Move {
  from: number
  to: number
  way: 1 | -1
}

/** Stretches in which the throttle moves one way, rows included. */
function movesOf(time: Float32Array, speed: Float32Array, limit: number): Move[] {
  const moves: Move[] = []
  for (let i = 0; i < speed.length; i++) {
    const way = speed[i]! > limit ? 1 : speed[i]! < -limit ? -1 : 0
    if (way === 0) continue
    const last = moves.at(-1)
    if (last && last.way === way && time[i]! - time[last.to]! <= REST) last.to = i
    else moves.push({ from: i, to: i, way })
  }
  return moves
}

/** Speed of the throttle at every sample, % per second. */
function speedOf(time: Float32Array, throttle: Float32Array): Float32Array {
  const n = time.length
  const speed = new Float32Array(n)
  let before = 0
  let after = 0
  for (let i = 0; i < n; i++) {
    while (before < i - 1 && time[before + 1]! <= time[i]! - HALF) before++
    after = Math.max(after, Math.min(n - 1, i + 1))
    while (after < n - 1 && time[after]! < time[i]! + HALF) after++
    const span = time[after]! - time[before]!
    const change = throttle[after]! - throttle[before]!
    speed[i] = span > 0 && change === change ? change / span : 0
  }
  return speed
}

/** Standard deviation of a still throttle's speed: from the usual one, since it stands still most of the time. */
function noiseOf(speed: Float32Array): number {
  const stride = Math.max(1, Math.floor(speed.length / 2048))
  const some: number[] = []
  for (let i = 0; i < speed.length; i += stride) some.push(Math.abs(speed[i]!))
  some.sort((a, b) => a - b)
  return some.length ? 1.5 * some[Math.floor(0.4 * some.length)]! : 0
}

function rows(time: Float32Array, from: number, to: number): number[] {
  const list: number[] = []
  for (let i = firstFrom(time, from); i < time.length && time[i]! <= to; i++) list.push(i)
  return list
}

function levelOf(values: Float32Array, at: readonly number[], otherwise: number): number {
  const known = at.map((i) => values[i]!).filter((value) => value === value)
  return known.length ? median(known) : otherwise
}

/** s at which a rising column first passes a level between two rows. */
function crossing(time: Float32Array, values: Float32Array, from: number, to: number, level: number): number {
  for (let i = from + 1; i <= to; i++) {
    if (!(values[i]! >= level)) continue
    const step = values[i]! - values[i - 1]!
    const share = step > 0 ? Math.min(1, Math.max(0, (level - values[i - 1]!) / step)) : 1
    return time[i - 1]! + share * (time[i]! - time[i - 1]!)
  }
  return time[to]!
}

/** Engine speed about a time: the middle of a quarter of a second, so that noise of the pick-up is none of it. */
function rpmAt({ time, rpm }: RunColumns, at: number): number {
  const near = rows(time, at - 0.25, at + 0.02).map((i) => rpm[i]!)
  const known = near.filter((value) => value === value)
  return known.length ? median(known) : rpm[Math.min(rpm.length - 1, firstFrom(time, at))]!
}
