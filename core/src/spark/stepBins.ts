import type { RunColumns } from '../log/run'
import type { MeasuredPoint, SparkBin, SparkRun } from './bin'
import { KNOCK_LEVEL, knocksWithin } from './knock'

/** Steps to which stop and speed of a bin are rounded, %, rpm; and degrees to which a setting is. */
const STOP_STEP = 5
const RPM_STEP = 250
const SETTING_STEP = 0.5
/** s that a setting must last, after the s that torque takes to follow it. */
const LASTS = 1
const FOLLOWS = 0.8
/** rpm, % and degrees within which a point is held. */
const HELD = { rpm: 120, throttle: 2.5, advance: 0.6 }
/** A run whose advance moves by less than this at one point was not stepped. */
const STEPPED = 1.5

/** A stretch in which speed, throttle and advance are held. */
interface Segment {
  from: number
  to: number
  /** long enough for torque to be told */
  isWhole: boolean
}

function heldSegments({ time, rpm, throttle, spark }: RunColumns): Segment[] {
  const segments: Segment[] = []
  let from = 0
  const close = (to: number): void => {
    segments.push({ from, to, isWhole: time[to - 1]! - time[from]! >= LASTS + FOLLOWS })
  }
  for (let i = 1; i < time.length; i++) {
    const holds =
      Math.abs(rpm[i]! - rpm[from]!) < HELD.rpm &&
      Math.abs(throttle![i]! - throttle![from]!) < HELD.throttle &&
      (!spark || Math.abs(spark[i]! - spark[from]!) < HELD.advance)
    if (holds) continue
    close(i)
    from = i
  }
  if (time.length > 0) close(time.length)
  return segments
}

const round = (value: number, step: number): number => Math.round(value / step) * step
const mean = (column: Float32Array, from: number, to: number): number => {
  let [sum, count] = [0, 0]
  for (let i = from; i < to; i++) if (column[i] === column[i]) [sum, count] = [sum + column[i]!, count + 1]
  return count ? sum / count : NaN
}
const median = (values: number[]): number => values.sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN

interface Held extends MeasuredPoint {
  stop: number
  rpm: number
  isWhole: boolean
}

/** Held points of a run, in its order. */
function heldPoints({ columns, run }: SparkRun, knockLevel = KNOCK_LEVEL): Held[] {
  const { time, rpm, throttle, torque, spark, knock } = columns
  return heldSegments(columns).map(({ from, to, isWhole }) => {
    let start = from
    while (isWhole && time[start]! - time[from]! < FOLLOWS) start++
    return {
      stop: round(mean(throttle!, start, to), STOP_STEP),
      rpm: round(mean(rpm, start, to), RPM_STEP),
      advance: run.setting?.advance ?? round(mean(spark!, start, to), SETTING_STEP),
      torque: mean(torque!, start, to),
      knock: (run.setting?.knock ?? false) || knocksWithin(knock, start, to, knockLevel),
      run: run.id,
      at: run.createdAt,
      isWhole,
    }
  })
}

/** What was there before anything was stepped: a setting that a run begins and ends with. */
function framing(points: readonly Held[]): number | null {
  const [first, last] = [points[0], points.at(-1)]
  return first && last && points.length > 2 && first.advance === last.advance ? first.advance : null
}

/** A sweep has no held point, whatever a short stretch of it looks like; with fuel added, torque tells of fuel. */
function isHeldRun({ columns, run }: SparkRun): boolean {
  const has = columns.throttle && columns.torque && (columns.spark || run.setting)
  return Boolean(has) && run.kind !== 'sweep' && run.kind !== 'mixture step'
}

function wasStepped(points: readonly Held[]): boolean {
  const advances = points.map((point) => point.advance)
  return Math.max(...advances) - Math.min(...advances) >= STEPPED
}

/** Torque at a held point with the advance that is in use. */
export interface PresentReading {
  stop: number
  rpm: number
  advance: number
  torque: number
}

/** Readings at what is in use: of holds, and of stepped runs where they begin and end with it. */
export function presentReadings(runs: readonly SparkRun[]): PresentReading[] {
  return runs.filter(isHeldRun).flatMap((one) => {
    const whole = heldPoints(one).filter((point) => point.isWhole && point.stop > 0 && point.torque > 0)
    const frame = framing(whole)
    const present = wasStepped(whole) ? whole.filter((point) => point.advance === frame) : whole
    return present.map(({ stop, rpm, advance, torque }) => ({ stop, rpm, advance, torque }))
  })
}

/**
 * Torque by advance where stop and speed were held, by bin: out of runs in which the advance was stepped, and of holds that
 * were each made at a setting somebody said. Runs need columns of throttle and torque, and one of spark or a setting; others
 * are passed over.
 *
 * @param knockLevel of the knock channel from which it is knock
 */
export function stepBins(runs: readonly SparkRun[], knockLevel = KNOCK_LEVEL): SparkBin[] {
  const bins = new Map<string, SparkBin>()
  const there = new Map<string, { advance: number; at: string }>()
  const note = (key: string, advance: number, at: string): void => {
    // A table that was changed on the way has the newest say.
    if (!((there.get(key)?.at ?? '') > at)) there.set(key, { advance, at })
  }
  for (const one of runs.filter(isHeldRun)) {
    const { columns, run } = one
    const held = heldPoints(one, knockLevel)
    const whole = held.filter((point) => point.isWhole && point.stop > 0 && point.torque > 0)
    const isStepped = run.setting !== null || wasStepped(whole)
    for (const { stop, rpm, isWhole: _, ...point } of whole) {
      const key = `${stop} ${rpm}`
      if (!isStepped) {
        note(key, point.advance, point.at)
        continue
      }
      const bin = bins.get(key)
      if (bin) {
        bin.points.push(point)
        bin.hasKnockChannel &&= columns.knock !== undefined
      } else
        bins.set(key, {
          stop,
          rpm,
          source: 'steps',
          isStatic: run.setting !== null,
          points: [point],
          present: NaN,
          presentAt: '',
          hasKnockChannel: columns.knock !== undefined,
          knockFrom: null,
        })
    }
    const frame = isStepped ? framing(whole) : null
    if (frame !== null) note(`${whole[0]!.stop} ${whole[0]!.rpm}`, frame, run.createdAt)
    for (const { stop, rpm, advance } of held.filter((point) => !point.isWhole && point.knock)) {
      const bin = bins.get(`${stop} ${rpm}`)
      if (bin) bin.knockFrom = Math.min(bin.knockFrom ?? Infinity, advance)
    }
  }
  return [...bins.entries()].map(([key, bin]) => {
    const { advance, at } = there.get(key) ?? {
      advance: median(bin.points.map((one) => one.advance)),
      at: bin.points.at(-1)!.at,
    }
    return { ...bin, present: advance, presentAt: at }
  })
}
