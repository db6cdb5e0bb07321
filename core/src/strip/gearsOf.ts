import { median } from '../numbers/median'

/** Columns of one length that tell what a pass did in each gear; speed in km/h, NaN where there is no reading. */
export interface GearColumns {
  time: Float32Array
  rpm: Float32Array
  speed: Float32Array
  gear?: Float32Array | undefined
}

/** Rows of one gear: `from` to before `to`. */
export interface GearSpan {
  /** as the log says, else counted from the launch */
  gear: number
  from: number
  to: number
  /** % by which the engine turns faster than this gear does where it grips: tyre, or clutch; null where nothing tells */
  spinPct: number | null
}

/** rpm falls by this share within so many s where a gear is changed up. */
const SHIFT = { share: 0.12, seconds: 0.6 }
/** s that a gear lasts at least. */
const LEAST = 0.4
/** km/h below which the ratio of a gear tells nothing: the clutch still slips. */
const TELLS = 25
/** Ratios of an engine to its road within a gear: this quantile of them grips; s over which spin is taken. */
const [GRIPS, OVER] = [0.2, 0.3]

/**
 * Gears of a pass, by its own channel or by where engine speed falls while the road does not, and how far each spun: engine speed
 * over road speed against what that ratio is where the tyre grips.
 *
 * @param from first row; @param to row behind the last
 */
export function gearsOf({ time, rpm, speed, gear }: GearColumns, from: number, to: number): GearSpan[] {
  const cuts = gear ? changesOf(gear, from, to) : shiftsOf(time, rpm, from, to)
  const bounds = [from, ...cuts, to]
  const found = bounds.slice(1).flatMap((end, k): Omit<GearSpan, 'gear'>[] => {
    const start = bounds[k]!
    if (end <= start + 1 || time[end - 1]! - time[start]! < LEAST) return []
    return [{ from: start, to: end, spinPct: spinOf(time, rpm, speed, start, end) }]
  })
  return found.map((span, k) => {
    const told = gear ? Math.round(median([...gear.subarray(span.from, span.to)].filter((one) => one === one))) : NaN
    return { gear: told >= 1 ? told : k + 1, ...span }
  })
}

/** Rows at which the channel tells another gear; what stands for a moment in between is none. */
function changesOf(gear: Float32Array, from: number, to: number): number[] {
  const cuts: number[] = []
  let now = NaN
  for (let i = from; i < to; i++) {
    const value = Math.round(gear[i]!)
    if (!(value >= 1) || value === now) continue
    if (now === now) cuts.push(i)
    now = value
  }
  return cuts
}

/** Rows at which a fall of engine speed has ended: the next gear is in. */
function shiftsOf(time: Float32Array, rpm: Float32Array, from: number, to: number): number[] {
  const cuts: number[] = []
  let [top, since] = [from, from]
  for (let i = from; i < to; i++) {
    if (!(rpm[i]! === rpm[i]!)) continue
    if (rpm[i]! >= rpm[top]! || time[i]! - time[top]! > SHIFT.seconds) {
      top = i
      // The highest of the last moments.
      for (let back = i; back > since && time[i]! - time[back]! < SHIFT.seconds / 2; back--)
        if (rpm[back]! > rpm[top]!) top = back
    }
    if (rpm[i]! > (1 - SHIFT.share) * rpm[top]!) continue
    let low = i
    while (low + 1 < to && rpm[low + 1]! < rpm[low]!) low++
    cuts.push(low)
    top = since = i = low
  }
  return cuts
}

function spinOf(time: Float32Array, rpm: Float32Array, speed: Float32Array, from: number, to: number): number | null {
  const rows: { at: number; ratio: number }[] = []
  for (let i = from; i < to; i++)
    if (speed[i]! > TELLS && rpm[i]! > 0) rows.push({ at: time[i]!, ratio: rpm[i]! / speed[i]! })
  if (rows.length < 4) return null
  const sorted = rows.map((one) => one.ratio).sort((a, b) => a - b)
  const grips = sorted[Math.floor(GRIPS * sorted.length)]!
  let most = 0
  for (const { at } of rows) {
    const near = rows.filter((one) => Math.abs(one.at - at) <= OVER / 2).map((one) => one.ratio)
    if (near.length >= 2) most = Math.max(most, median(near) / grips - 1)
  }
  return 100 * most
}
