import { median } from '../../numbers/median'
import type { RunColumns } from '../../run/run'
import { firstFrom } from '../../run/firstFrom'
import type { ThrottleOpening } from './openingsOf'

/** Torque that does not follow the throttle: it falls back, or stands still on its way up. */
export interface Hesitation {
  kind: 'dip' | 'plateau'
  /** s after the opening at which it begins, and how long it lasts */
  atS: number
  lastsS: number
  /** percent of the torque gained that it falls back; 0 of a plateau */
  depthPct: number
}

/** s before an opening over which torque is averaged, and span after it in which it settles. */
const BEFORE = 0.4
const WITHIN = 2
const LATE = 0.6
/** Share of the gain at which torque has come. */
const COME = 0.9
/** Least gain, N·m, and in noises of the torque: below nothing can be told. */
const LEAST_GAIN = 1
const ABOVE_NOISE = 6
/** Share of the gain by which torque falls back in a dip, or gains less in a plateau; s that a plateau lasts. */
const DIP = 0.12
const FLAT = 0.06
const LEAST_FLAT = 0.15

interface Rise {
  /** s after the opening, and share of the gain that torque has made */
  time: number[]
  share: number[]
  /** standard deviation of a share */
  noise: number
}

/** s from the first movement of the throttle to 90 % of the torque gained; null without torque, or where it gains too little. */
export function torqueDelay(run: RunColumns, opening: ThrottleOpening): number | null {
  const rise = riseOf(run, opening)
  if (!rise) return null
  const { time, share } = rise
  for (let k = 0; k < share.length; k++) {
    if (share[k]! < COME) continue
    const [before, since] = k > 0 ? [share[k - 1]!, time[k - 1]!] : [0, 0]
    const part = share[k]! > before ? Math.max(0, (COME - before) / (share[k]! - before)) : 1
    return Math.max(0, since + Math.min(1, part) * (time[k]! - since))
  }
  return null
}

/** Whether torque dips or stands still on its way; null where it does not, or cannot be told. */
export function hesitationOf(run: RunColumns, opening: ThrottleOpening): Hesitation | null {
  const rise = riseOf(run, opening)
  if (!rise) return null
  const { time, share, noise } = rise
  const come = share.findIndex((value) => value >= COME)
  const end = come < 0 ? share.length : come
  let [top, at, low, back] = [0, 0, 0, 0]
  let dip: Hesitation | null = null
  for (let k = 0; k < share.length; k++) {
    if (share[k]! > top) [top, at, low, back] = [share[k]!, k, share[k]!, k]
    if (share[k]! < low) [low, back] = [share[k]!, k]
    const depth = top - low
    if (depth > Math.max(DIP, 4 * noise) && top < 1.15 && (!dip || 100 * depth > dip.depthPct))
      dip = { kind: 'dip', atS: time[at]!, lastsS: time[back]! - time[at]!, depthPct: 100 * depth }
  }
  if (dip) return dip
  for (let from = 0; from < end; from++) {
    let to = from
    while (to + 1 < end && share[to + 1]! - share[from]! < Math.max(FLAT, 2 * noise)) to++
    if (share[from]! > 0.15 && to < end - 1 && time[to]! - time[from]! >= LEAST_FLAT && time[from]! > 0)
      return { kind: 'plateau', atS: time[from]!, lastsS: time[to]! - time[from]!, depthPct: 0 }
  }
  return null
}

function riseOf({ time, torque }: RunColumns, { at, opened, until }: ThrottleOpening): Rise | null {
  if (!torque) return null
  const part = (from: number, to: number): number[] =>
    [...torque.subarray(firstFrom(time, from), firstFrom(time, to))].filter((value) => value === value)
  const earlier = part(at - BEFORE, at)
  const end = Math.min(until, opened + WITHIN)
  const late = part(Math.max(opened + 0.1, end - LATE), end)
  if (earlier.length < 2 || late.length < 2) return null
  const [before, after] = [median(earlier), median(late)]
  const steps = late.slice(1).map((value, k) => Math.abs(value - late[k]!))
  const noise = (1.4826 * median(steps)) / Math.SQRT2
  const gain = after - before
  if (!(gain > Math.max(LEAST_GAIN, ABOVE_NOISE * noise))) return null
  const rise: Rise = { time: [], share: [], noise: noise / gain }
  for (let i = firstFrom(time, at); i < time.length && time[i]! <= end; i++) {
    if (torque[i] !== torque[i]) continue
    rise.time.push(time[i]! - at)
    rise.share.push((torque[i]! - before) / gain)
  }
  return rise
}
