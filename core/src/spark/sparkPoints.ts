import type { RunColumns } from '../log/run'
import type { SparkPoint } from './fitAdvance'

/** Settings measured at one throttle stop and engine speed. */
export interface SparkBin {
  /** % of plate */
  stop: number
  rpm: number
  /** in the order in which they were run */
  points: SparkPoint[]
  /** advance where nothing was stepped, degrees: out of other runs there, else the middle of what was tried */
  present: number
  hasKnockChannel: boolean
}

/** Steps to which stop and speed of a bin are rounded, %, rpm; and degrees to which a setting is. */
const STOP_STEP = 5
const RPM_STEP = 250
const SETTING_STEP = 0.5
/** s that a setting must last, after the s that torque takes to follow it. */
const LASTS = 1
const FOLLOWS = 0.8
/** rpm, % and degrees within which a point is held. */
const HELD = { rpm: 120, throttle: 2.5, advance: 0.6 }
/** Knock level, and samples in a row, that count as knock; a single spike does not. */
const KNOCK_LEVEL = 0.6
const KNOCKS = 3
/** A run whose advance moves by less than this at one point was not stepped. */
const STEPPED = 1.5

interface Segment {
  from: number
  to: number
}

/** Stretches in which speed, throttle and advance are held. */
function heldSegments({ time, rpm, throttle, spark }: RunColumns): Segment[] {
  const segments: Segment[] = []
  let from = 0
  const close = (to: number): void => {
    if (time[to - 1]! - time[from]! >= LASTS + FOLLOWS) segments.push({ from, to })
  }
  for (let i = 1; i < time.length; i++) {
    const holds =
      Math.abs(rpm[i]! - rpm[from]!) < HELD.rpm &&
      Math.abs(throttle![i]! - throttle![from]!) < HELD.throttle &&
      Math.abs(spark![i]! - spark![from]!) < HELD.advance
    if (holds) continue
    close(i)
    from = i
  }
  close(time.length)
  return segments
}

const round = (value: number, step: number): number => Math.round(value / step) * step
const mean = (column: Float32Array, from: number, to: number): number => {
  let [sum, count] = [0, 0]
  for (let i = from; i < to; i++) if (column[i] === column[i]) [sum, count] = [sum + column[i]!, count + 1]
  return count ? sum / count : NaN
}
const median = (values: number[]): number => values.sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN

function knocks(knock: Float32Array | undefined, from: number, to: number): boolean {
  let row = 0
  for (let i = from; knock && i < to; i++) {
    row = knock[i]! > KNOCK_LEVEL ? row + 1 : 0
    if (row >= KNOCKS) return true
  }
  return false
}

/**
 * Torque by advance out of runs in which the advance was stepped while stop and speed were held, by bin. Runs need columns
 * of throttle, torque and spark; others are passed over.
 */
export function sparkBins(runs: readonly RunColumns[]): SparkBin[] {
  const bins = new Map<string, SparkBin>()
  const unstepped: { stop: number; rpm: number; advance: number }[] = []
  for (const run of runs) {
    const { time, rpm, throttle, torque, spark, knock } = run
    if (!throttle || !torque || !spark) continue
    const settled = heldSegments(run).map(({ from, to }) => {
      let start = from
      while (time[start]! - time[from]! < FOLLOWS) start++
      return {
        stop: round(mean(throttle, start, to), STOP_STEP),
        rpm: round(mean(rpm, start, to), RPM_STEP),
        advance: round(mean(spark, start, to), SETTING_STEP),
        torque: mean(torque, start, to),
        knock: knocks(knock, start, to),
      }
    })
    const advances = settled.map((one) => one.advance)
    if (Math.max(...advances) - Math.min(...advances) < STEPPED) {
      unstepped.push(...settled)
      continue
    }
    for (const { stop, rpm: speed, ...point } of settled) {
      if (stop <= 0 || !(point.torque > 0)) continue
      const key = `${stop} ${speed}`
      const bin = bins.get(key)
      if (bin) {
        bin.points.push(point)
        bin.hasKnockChannel &&= knock !== undefined
      } else bins.set(key, { stop, rpm: speed, points: [point], present: NaN, hasKnockChannel: knock !== undefined })
    }
  }
  return [...bins.values()]
    .map((bin) => {
      const there = unstepped.filter((one) => one.stop === bin.stop && one.rpm === bin.rpm).map((one) => one.advance)
      return { ...bin, present: median(there.length ? there : bin.points.map((one) => one.advance)) }
    })
    .sort((a, b) => a.stop - b.stop || a.rpm - b.rpm)
}
