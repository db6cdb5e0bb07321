import { isRunning } from '../../run/engineState'
import { median } from '../../numbers/median'
import { firstFrom } from '../../run/firstFrom'
import type { RunColumns } from '../../run/run'
import { throttleMoves } from '../../run/throttleMoves'

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

/** Least opening, %: below lies a hand that wanders. */
const LEAST_RISE = 4
/** s before and after that are looked at. */
const BEFORE = 0.8
const AFTER = 3
/** Every opening of the throttle in a run, in order; none without a throttle. */
export function openingsOf(run: RunColumns): ThrottleOpening[] {
  const { time, throttle } = run
  if (!throttle || run.handRange) return []
  const n = time.length
  const moves = throttleMoves(time, throttle)
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
