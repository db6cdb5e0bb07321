import { isotonic } from '../../numbers/isotonic'
import { monotoneCubic } from '../../numbers/monotoneCubic'
import { NINETY } from '../../numbers/ninety'

/** Readings of something that rises with an opening, at engine speeds. */
export interface Readings {
  rpm: number[]
  /** %: grip, or plate */
  opening: number[]
  value: number[]
  /** which stretch a reading comes of: those of one are not apart */
  stretch: number[]
}

/** A curve over the opening at one speed, by knots where it was read; rising. */
export interface Rising {
  opening: number[]
  value: number[]
  /** half width of the 90 % interval of each */
  half: number[]
}

/** % of opening over which readings of one stretch are one, and within which knots are one. */
const BIN = 2
const SAME = 0.7
/** Readings that make a knot, and share of the window within which one must lie where they do not lie on both sides. */
const LEAST = 3
const NEAR = 0.25
/** Half width at the least, and standard deviation between passes that is usual. */
const LEAST_HALF = 0.1
const BETWEEN = 0.15

interface Knot {
  opening: number
  value: number
  count: number
  error: number
}

/**
 * Curves over the opening at some speeds: each stretch of readings brought to the speed by a line, stretches at one opening
 * together, and all of them rising.
 *
 * @param half half width of the window in speed, rpm
 */
export function knotsAt(readings: Readings, speeds: readonly number[], half: number): (Rising | null)[] {
  const order = Array.from(readings.rpm.keys()).sort((a, b) => readings.rpm[a]! - readings.rpm[b]!)
  let from = 0
  return speeds.map((speed) => {
    while (from < order.length && readings.rpm[order[from]!]! < speed - half) from++
    const groups = new Map<string, number[]>()
    for (let k = from; k < order.length && readings.rpm[order[k]!]! <= speed + half; k++) {
      const i = order[k]!
      const key = `${readings.stretch[i]} ${Math.round(readings.opening[i]! / BIN)}`
      const group = groups.get(key)
      if (group) group.push(i)
      else groups.set(key, [i])
    }
    const knots = [...groups.values()].flatMap((group) => knotOf(readings, group, speed, half) ?? [])
    return risingThrough(knots)
  })
}

/** What a stretch says at a speed; null where its readings lie aside. */
function knotOf({ rpm, opening, value }: Readings, group: readonly number[], speed: number, half: number): Knot | null {
  const n = group.length
  if (n < LEAST) return null
  const mean = (of: readonly number[]): number => group.reduce((sum, i) => sum + of[i]!, 0) / n
  const [x, y, v] = [mean(rpm), mean(opening), mean(value)]
  let [xx, xy, xv] = [0, 0, 0]
  let [low, high] = [Infinity, -Infinity]
  for (const i of group) {
    const off = rpm[i]! - x
    xx += off * off
    xy += off * opening[i]!
    xv += off * value[i]!
    low = Math.min(low, rpm[i]!)
    high = Math.max(high, rpm[i]!)
  }
  const spans = low <= speed && high >= speed
  if (!spans && Math.min(Math.abs(low - speed), Math.abs(high - speed)) > NEAR * half) return null
  const tilted = xx > n * (0.1 * half) ** 2
  const along = tilted ? speed - x : 0
  const at = { opening: y + (tilted ? (along * xy) / xx : 0), value: v + (tilted ? (along * xv) / xx : 0) }
  const squares = group.reduce((sum, i) => {
    const line = v + (tilted ? ((rpm[i]! - x) * xv) / xx : 0)
    return sum + (value[i]! - line) ** 2
  }, 0)
  return { ...at, count: n, error: Math.sqrt(squares) / n + BETWEEN }
}

function risingThrough(knots: Knot[]): Rising | null {
  const sorted = [...knots].sort((a, b) => a.opening - b.opening)
  const groups: Knot[][] = []
  for (const knot of sorted) {
    const last = groups.at(-1)
    if (last && knot.opening - last[0]!.opening <= SAME) last.push(knot)
    else groups.push([knot])
  }
  if (groups.length < 2) return null
  const merged = groups.map((group) => {
    const weights = group.map((one) => 1 / one.error ** 2)
    const total = weights.reduce((sum, one) => sum + one, 0)
    const mean = (of: (one: Knot) => number): number =>
      group.reduce((sum, one, k) => sum + weights[k]! * of(one), 0) / total
    return { opening: mean((one) => one.opening), value: mean((one) => one.value), total }
  })
  return {
    opening: merged.map((one) => one.opening),
    value: isotonic(
      merged.map((one) => one.value),
      merged.map((one) => one.total),
    ),
    half: merged.map((one) => Math.max(LEAST_HALF, NINETY / Math.sqrt(one.total))),
  }
}

/** Value of a rising curve, and its half width, at an opening in %. Beyond its ends it is that of the end. */
export function risingAt({ opening, value, half }: Rising): (at: number) => { value: number; half: number } {
  const curve = monotoneCubic(opening, value)
  const width = monotoneCubic(opening, half)
  return (at) => ({ value: curve(at), half: width(at) })
}
