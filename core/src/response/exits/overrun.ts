import { meanAcross } from '../../numbers/meanAcross'
import type { RunColumns } from '../../run/run'
import { runningMean } from '../../numbers/runningMean'
import { closedLimit } from '../../run/closedLimit'
import { median } from '../../numbers/median'
import { firstFrom } from '../../run/firstFrom'
import type { SensorResponse } from '../film/sensorTrace'

/** One overrun in which fuel was cut. */
export interface Overrun {
  run: string
  /** s of the run at which the throttle shut */
  atS: number
  /** engine speed at which fuel was cut, and at which it came back; null where the log ends before */
  cutRpm: number
  backRpm: number | null
  /** s from the opening of the throttle to 90 % of the torque that settles; null where it stayed shut, or without torque */
  delayS: number | null
  /** steepest rise of torque after fuel came back, N·m per second; null without torque */
  jerk: number | null
}

/** Leaner than this, nothing burns: fuel is cut. */
const CUT = 1.18
/** rpm below which an engine idles rather than drives. */
const LEAST_RPM = 1500
/** s that a cut must last to be one. */
const LASTS = 0.15
/** Share of settled torque at which it has come. */
const COME = 0.9
/** % above shut at which the throttle has begun to move. */
const MOVED = 0.5
/** s after an opening in which torque settles, and the end of it over which it is averaged. */
const WITHIN = 2.5
const LATE = 0.8
/** s about an instant over which torque is averaged for its steepness. */
const STEEP = 0.1

/**
 * Overruns of a run in which fuel was cut, from the throttle and the mixture. A large step shows in the reading sooner than the
 * whole lag: how much sooner follows from its size and the time constant of the sensor.
 *
 * @param lag s from charge to reading, travel and time constant together
 * @param tau s, time constant of the sensor; 0 for one that shows a step at once
 */
export function overrunsOf(run: RunColumns, lag: number, tau = 0): Overrun[] {
  const { time, rpm, throttle } = run
  if (!throttle || run.handRange || run.lambda.length === 0) return []
  const plate = runningMean(time, throttle)
  const shut = closedLimit(plate)
  const found: Overrun[] = []
  for (let i = 1; i < time.length; i++) {
    if (!(plate[i]! <= shut && plate[i - 1]! > shut && rpm[i]! > LEAST_RPM)) continue
    let open = i
    while (open < time.length && plate[open]! <= shut) open++
    const one = cutIn(run, i, open, { delay: Math.max(0, lag - tau), tau })
    if (one) found.push(one)
    i = open
  }
  return found
}

/** Row of the first movement of a throttle that was found open at a row. */
function beganAt({ throttle }: RunColumns, open: number, shutLevel: number): number {
  // The mean that told the opening looks a little ahead.
  let k = open
  while (k < throttle!.length - 1 && !(throttle![k]! > shutLevel + MOVED)) k++
  while (k > 1 && throttle![k - 1]! > shutLevel + MOVED) k--
  return k
}

/** Readings this near the leanest rest on the end of the sensor's range, where so many do: behind it is air. */
const AT_END = 0.005
const PINNED = 4
/** Lambda that gas without fuel is taken for where the sensor ends before (common practice: it would show a multiple of one). */
const AIR = 3
/** Rows before and after a crossing over which its sides are averaged. */
const SIDE = 4
/** Share of a step that a reading may have made at a crossing: beyond it noise tells the time. */
const MOST_MADE = 0.95

/**
 * Time constants that a first-order sensor takes to cross a level after a step.
 *
 * @param before lambda before; @param after where it goes to
 */
function crossing(before: number, after: number): number {
  const made = (CUT - before) / (after - before)
  return -Math.log(1 - Math.min(MOST_MADE, Math.max(0, made)))
}

function cutIn(run: RunColumns, from: number, open: number, { delay, tau }: SensorResponse): Overrun | null {
  const { time, rpm, lambda, throttle } = run
  const mean = (k: number): number => meanAcross(lambda, k)
  const opened = open < time.length
  const end = opened ? time[open]! + delay + tau : time[time.length - 1]!
  let lean = -1
  let rich = -1
  for (let k = from; k < time.length; k++) {
    const value = mean(k)
    if (lean < 0 && time[k]! > end) return null
    if (lean < 0 && value > CUT) lean = k
    if (lean >= 0 && value > 0 && value <= CUT) {
      if (time[k]! - time[lean]! < LASTS) {
        lean = -1
        continue
      }
      rich = k
      break
    }
    if (lean >= 0 && opened && time[k]! > end + 1.5) break
  }
  if (lean < 0) return null
  const rpmAt = (t: number): number => {
    const k = Math.min(time.length - 1, firstFrom(time, Math.max(time[0]!, t)))
    const near = [...rpm.subarray(Math.max(0, k - 2), k + 3)].filter((value) => value === value)
    return median(near)
  }
  const level = median([...throttle!.subarray(from, Math.max(from + 1, open - 1))])
  const began = opened ? beganAt(run, open, level) : -1
  // Within the cut the leanest that is shown, at its sides what burns.
  const shown = Array.from({ length: (rich < 0 ? time.length : rich) - lean }, (_, k) => mean(lean + k))
  const most = Math.max(CUT + 0.01, ...shown.filter((one) => one === one))
  const atEnd = shown.filter((one) => one > most - AT_END).length
  const leanest = atEnd >= PINNED ? Math.max(most, AIR) : most
  const sideOf = (first: number, last: number): number => {
    const values = Array.from({ length: Math.max(0, last - first) }, (_, k) => mean(first + k)).filter(
      (one) => one < CUT,
    )
    return values.length ? median(values) : 1
  }
  const later = firstFrom(time, (time[rich] ?? 0) + 3 * tau)
  const late = {
    cut: delay + tau * crossing(sideOf(Math.max(0, lean - SIDE - 2), lean - 2), leanest),
    back: delay + tau * crossing(leanest, sideOf(later, Math.min(time.length, later + SIDE))),
  }
  // A reading beyond the level came to it some time after the one before.
  const crossed = (k: number): number => {
    const [low, high] = [mean(k - 1), mean(k)]
    const share = (CUT - low) / (high - low)
    return share >= 0 && share <= 1 ? time[k - 1]! + share * (time[k]! - time[k - 1]!) : time[k]!
  }
  const back = rich > 0 ? Math.max(time[from]!, crossed(rich) - late.back) : null
  return {
    run: run.id,
    atS: time[from]!,
    cutRpm: rpmAt(Math.max(time[from]!, crossed(Math.max(1, lean)) - late.cut)),
    backRpm: back === null ? null : rpmAt(back),
    delayS: opened ? delayOf(run, began) : null,
    jerk: back === null ? null : steepestAfter(run, back),
  }
}

/** s from a row until torque has come to 90 % of where it settles. */
function delayOf({ time, torque, throttle }: RunColumns, began: number): number | null {
  if (!torque) return null
  const at = began > 0 ? (time[began - 1]! + time[began]!) / 2 : time[0]!
  let end = firstFrom(time, at + WITHIN)
  // Torque settles only as long as the throttle stays where it was put.
  const reached = firstFrom(time, at + 0.4)
  for (let k = reached; k < end; k++)
    if (Math.abs(throttle![k]! - throttle![Math.min(reached, time.length - 1)]!) > 6) end = k
  const last = Math.min(end, time.length)
  const late = [...torque.subarray(firstFrom(time, time[last - 1]! - LATE), last)].filter((value) => value === value)
  if (late.length < 2) return null
  const settled = median(late)
  if (!(settled > 0)) return null
  for (let k = Math.max(1, began); k < last; k++) {
    if (!(torque[k]! >= COME * settled)) continue
    const step = torque[k]! - torque[k - 1]!
    const share = step > 0 ? Math.min(1, Math.max(0, (COME * settled - torque[k - 1]!) / step)) : 1
    return Math.max(0, time[k - 1]! + share * (time[k]! - time[k - 1]!) - at)
  }
  return null
}

function steepestAfter({ time, torque }: RunColumns, back: number): number | null {
  if (!torque) return null
  let most: number | null = null
  for (let k = firstFrom(time, back); k < time.length && time[k]! <= back + 1; k++) {
    const later = firstFrom(time, time[k]! + STEEP)
    if (later >= time.length || later === k) break
    const rate = (torque[later]! - torque[k]!) / (time[later]! - time[k]!)
    if (rate === rate && (most === null || rate > most)) most = rate
  }
  return most
}
