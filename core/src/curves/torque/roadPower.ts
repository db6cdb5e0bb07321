import { firstFrom } from '../../run/firstFrom'
import { isWithout, type LeftOutSpan } from '../../run/leftOutByTime'
import { stretchesOf } from '../../run/stretches'
import { NINETY } from '../../numbers/ninety'
import { leastSquares } from '../../numbers/leastSquares'
import { coastAfter, LEAST_SPEED, resistance, type Resistance } from './coastDown'
import { LEAST_ROWS, slopeAt } from './slopeAt'

/** Columns of a run on the road, of one length; speed in km/h, NaN between its readings. */
export interface RoadColumns {
  id: string
  time: Float32Array
  rpm: Float32Array
  throttle: Float32Array
  speed: Float32Array
  /** m above anything; where the log has it, slope is taken out by it */
  altitude?: Float32Array | undefined
  /** left out by time, s: no pull and no coast-down is read there */
  without?: readonly Pick<LeftOutSpan, 'from' | 'to'>[] | null | undefined
}

/** What moves: mass with its rider, and what turns as mass beside it, kg. */
export interface RoadMachine {
  massKg: number
  rotatingMassKg: number
}

/** Torque of the engine from how it accelerates on the road, N·m, with the ends of a 90 % interval. */
export interface RoadPower {
  rpm: number[]
  torque: number[]
  low: number[]
  high: number[]
  /** pulls it rests on, and m/s of road per rpm in each */
  pulls: number
  ratios: number[]
  /** whether drag and rolling were read from a coast-down, or taken as usual */
  drag: 'coast-down' | 'assumed'
  /** what slope was taken out by: the altitude of the log, runs in opposite directions, or nothing */
  slope: 'altitude' | 'directions' | 'left in'
}

/** m/s² of gravity, and m over which an altitude tells a slope at least. */
const GRAVITY = 9.80665
const LEAST_CLIMB = 40

/** rpm of one bin, the narrowest that has readings enough. */
const BINS = [250, 500, 1000]
/** s to either side over which acceleration is fitted. */
const AROUND = 0.3
/** A pull is a sweep at this share of the widest opening or more. */
const WIDE = 0.7

/** A reading of a pull: what accelerates, N, and at which speeds. */
interface Pulled {
  run: number
  rpm: number
  v: number
  force: number
  /** standard error of the force, by the scatter of the rows it was fitted to */
  error: number
}

/**
 * Torque by road: traction times speed over engine speed, traction being what accelerates, and what rolls and drags, by a coast-down
 * with the clutch in where the log holds one. Runs in opposite directions over the same road cancel slope and wind: all of them
 * count alike; the altitude of the log, where there is one, takes the slope out of each. No losses of the drive are added.
 *
 * @returns null where no run holds a pull with a speed
 * @see Newton's second law; drag as N per (m/s)^2, common practice
 * @example
 * roadPower([there, back], { massKg: 260, rotatingMassKg: 10 })
 */
export function roadPower(runs: readonly RoadColumns[], { massKg, rotatingMassKg }: RoadMachine): RoadPower | null {
  const mass = massKg + rotatingMassKg
  const pulled: Pulled[] = []
  const coasts: { run: number; v: number; force: number }[] = []
  const ratios: number[] = []
  const told: boolean[] = []
  runs.forEach((columns, run) => {
    const { time, rpm, throttle, without } = columns
    const isOut = (row: number): boolean => !!without && isWithout(without, time[row]!)
    const widest = throttle.reduce((most, one) => (one > most ? one : most), 0)
    for (const { kind, from, to } of stretchesOf(time, rpm, throttle)) {
      const [first, last] = [firstFrom(time, from), firstFrom(time, to)]
      if (kind !== 'sweep' || !(throttle[(first + last) >> 1]! >= WIDE * widest) || isOut((first + last) >> 1)) continue
      const ratio = ratioOf(columns, first, last)
      if (ratio === null) continue
      ratios.push(ratio)
      const climb = climbOf(columns, first, last)
      told.push(climb !== null)
      const uphill = massKg * GRAVITY * (climb ?? 0)
      for (let i = first; i < last; i++) {
        const slope = isOut(i) ? null : slopeAt(time, rpm, i, AROUND, first, last)
        if (slope !== null)
          pulled.push({
            run,
            rpm: slope.level,
            v: ratio * slope.level,
            force: mass * ratio * slope.slope + uphill,
            error: mass * ratio * slope.error,
          })
      }
      const coast = coastAfter(columns, last, ratio)
      const downhill = massKg * GRAVITY * ((coast && climbOf(columns, coast.from, coast.to)) ?? 0)
      for (const one of coast?.readings ?? []) coasts.push({ run, v: one.v, force: -mass * one.slope - downhill })
    }
  })
  if (pulled.length === 0) return null
  const held = resistance(coasts, runs.length, massKg)
  return {
    ...binned(pulled, held, runs.length),
    pulls: ratios.length,
    ratios,
    drag: held.isTold ? 'coast-down' : 'assumed',
    slope: told.every(Boolean) ? 'altitude' : runs.length > 1 ? 'directions' : 'left in',
  }
}

/** m of height per m of road over some rows, by a straight line; null where no altitude tells it. */
function climbOf({ time, speed, altitude }: RoadColumns, first: number, last: number): number | null {
  if (!altitude) return null
  const rows: [number, number][] = []
  let [distance, before, v] = [0, time[first]!, NaN]
  for (let i = first; i < last; i++) {
    if (speed[i]! === speed[i]!) v = speed[i]! / 3.6
    if (v === v) distance += v * (time[i]! - before)
    before = time[i]!
    if (altitude[i]! === altitude[i]!) rows.push([distance, altitude[i]!])
  }
  if (rows.length < LEAST_ROWS || rows.at(-1)![0] - rows[0]![0] < LEAST_CLIMB) return null
  const fitted = leastSquares(
    rows.map(([at]) => [1, at / 100]),
    rows.map(([, height]) => height - rows[0]![1]),
  )
  return fitted[1]! / 100
}

/** m/s of road per rpm of the engine over a pull: the middle of what its rows say; null without a speed. */
function ratioOf({ rpm, speed }: RoadColumns, first: number, last: number): number | null {
  const ratios: number[] = []
  for (let i = first; i < last; i++) {
    const v = speed[i]! / 3.6
    if (v > LEAST_SPEED && rpm[i]! > 0) ratios.push(v / rpm[i]!)
  }
  return ratios.length < LEAST_ROWS ? null : ratios.sort((a, b) => a - b)[ratios.length >> 1]!
}

/** Torque of the engine that one reading tells, N·m. */
const torqueOf = ({ run, rpm, v, force }: Pulled, held: Resistance): number =>
  ((force + held.at(run, v)) * v) / ((rpm * 2 * Math.PI) / 60)

/** The narrowest bin in which a pull has readings enough. */
function binFor(pulled: readonly Pulled[], runs: number): number {
  const perRow = Array.from({ length: runs }, (_, run) => {
    const own = pulled.filter((one) => one.run === run).map((one) => one.rpm)
    return own.length ? (Math.max(...own) - Math.min(...own)) / own.length : 0
  })
  return BINS.find((bin) => bin >= (LEAST_ROWS + 1) * Math.max(...perRow)) ?? BINS.at(-1)!
}

/** Means over bins of engine speed, all runs alike. */
function binned(
  pulled: readonly Pulled[],
  held: Resistance,
  runs: number,
): Pick<RoadPower, 'rpm' | 'torque' | 'low' | 'high'> {
  const bin = binFor(pulled, runs)
  const bins = new Map<number, { run: number; torque: number; v: number; error: number }[]>()
  for (const one of pulled) {
    const { run, rpm, v } = one
    const error = (one.error * v) / ((rpm * 2 * Math.PI) / 60)
    const at = Math.round(rpm / bin) * bin
    const torque = torqueOf(one, held)
    bins.set(at, [...(bins.get(at) ?? []), { run, torque, v, error }])
  }
  const out: Pick<RoadPower, 'rpm' | 'torque' | 'low' | 'high'> = { rpm: [], torque: [], low: [], high: [] }
  for (const [rpm, all] of [...bins].sort((a, b) => a[0] - b[0])) {
    const byRun = Array.from({ length: runs }, (_, run) => all.filter((one) => one.run === run))
    // Where one direction alone was driven, slope and wind are in it.
    if (byRun.some((own) => own.length < LEAST_ROWS)) continue
    const means = byRun.map((own) => own.reduce((sum, one) => sum + one.torque, 0) / own.length)
    const torque = means.reduce((sum, one) => sum + one, 0) / runs
    const v = all.reduce((sum, one) => sum + one.v, 0) / all.length
    const byDrag = (held.doubt(v) * v) / ((rpm * 2 * Math.PI) / 60)
    // Windows overlap, so that readings of a bin are about one by run.
    const noise = all.reduce((sum, one) => sum + one.error, 0) / all.length
    const half = NINETY * Math.hypot(noise / Math.sqrt(runs), byDrag)
    out.rpm.push(rpm)
    out.torque.push(torque)
    out.low.push(torque - half)
    out.high.push(torque + half)
  }
  return out
}
