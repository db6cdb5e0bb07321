import { firstFrom } from '../../run/firstFrom'
import { isWithout, touchesWithout, type LeftOutSpan } from '../../run/leftOutByTime'
import { stretchesOf } from '../../run/stretches'
import { addAt, banded } from '../../numbers/banded'
import { NINETY } from '../../numbers/ninety'
import { inverseOf } from '../../numbers/inverseOf'
import { leastSquares } from '../../numbers/leastSquares'

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

/** rpm of one bin, the narrowest that has readings enough, and how many it needs. */
const BINS = [250, 500, 1000]
const LEAST_ROWS = 3
/** s to either side over which acceleration is fitted: of a pull, and of a coast-down. */
const AROUND = { pull: 0.3, coast: 1 }
/** A pull is a sweep at this share of the widest opening or more. */
const WIDE = 0.7
/** m/s below which a speed tells nothing, and s and m/s that a coast-down must last and lose. */
const LEAST_SPEED = 5
const COAST = { seconds: 3, loses: 3 }
/** Share by which the road must turn faster than the engine would, for the clutch to be in. */
const FREE = 1.3
/** Rolling and drag where no coast-down tells: N per kg, and N per (m/s)^2, and how far they may be off. Common practice. */
const USUAL = { rolling: 0.15, drag: 0.36, doubt: 0.3 }

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
        const slope = isOut(i) ? null : slopeAt(time, rpm, i, AROUND.pull, first, last)
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

/** Straight line through some readings about a row: its slope per second, and its level there. */
function slopeAt(
  time: Float32Array,
  values: Float32Array,
  row: number,
  around: number,
  first: number,
  last: number,
): { slope: number; level: number; error: number } | null {
  let [n, st, sv, stt, stv, svv] = [0, 0, 0, 0, 0, 0]
  const near = values[row]! === values[row]! ? values[row]! : 0
  const at = time[row]!
  for (let i = Math.max(first, firstFrom(time, at - around)); i < last && time[i]! <= at + around; i++) {
    const value = values[i]! - near
    if (value !== value) continue
    const t = time[i]! - at
    n++
    st += t
    sv += value
    stt += t * t
    stv += t * value
    svv += value * value
  }
  const spread = n * stt - st * st
  // At the ends of a pull a window is cut: half of it must be there.
  if (n < LEAST_ROWS || !(spread > 1e-9) || time[row]! - time[first]! < around / 2) return null
  const slope = (n * stv - st * sv) / spread
  const left = Math.max(0, svv - (sv * sv) / n - (slope * slope * spread) / n)
  return {
    slope,
    level: near + (sv - slope * st) / n,
    error: n > 2 ? Math.sqrt(left / (n - 2) / (spread / n)) : 0,
  }
}

/** Readings of the road slowing down with the clutch in, after a pull. */
function coastAfter(
  { time, rpm, throttle, speed, without }: RoadColumns,
  from: number,
  ratio: number,
): { readings: { v: number; slope: number }[]; from: number; to: number } | null {
  const metres = speed.map((one) => one / 3.6)
  const shut = throttle.reduce((least, one) => (one < least ? one : least), Infinity) + 4
  let start = from
  const isFree = (i: number): boolean =>
    throttle[i]! <= shut && !(metres[i]! <= LEAST_SPEED) && !(metres[i]! / ratio < FREE * rpm[i]!)
  const until = firstFrom(time, time[Math.min(from, time.length - 1)]! + 120)
  while (start < until && !(isFree(start) && metres[start]! > 0)) start++
  let end = start
  while (end < until && isFree(end)) end++
  if (end - start < LEAST_ROWS || time[end - 1]! - time[start]! < COAST.seconds) return null
  if (touchesWithout(without, time[start]!, time[end - 1]!)) return null
  const found: { v: number; slope: number }[] = []
  for (let i = start; i < end; i++) {
    if (Number.isNaN(metres[i]!)) continue
    const fit = slopeAt(time, metres, i, AROUND.coast, start, end)
    if (fit && fit.level > LEAST_SPEED) found.push({ v: fit.level, slope: fit.slope })
  }
  const speeds = found.map((one) => one.v)
  return Math.max(...speeds) - Math.min(...speeds) >= COAST.loses ? { readings: found, from: start, to: end } : null
}

/** What rolls and drags at a speed, N, of a run, and how far that may be off. */
interface Resistance {
  at(run: number, v: number): number
  doubt(v: number): number
  isTold: boolean
}

/** Rolling (with the slope of its own direction) by run, drag shared by all, from coast-downs; else as usual. */
function resistance(
  coasts: readonly { run: number; v: number; force: number }[],
  runs: number,
  massKg: number,
): Resistance {
  const told = [...new Set(coasts.map((one) => one.run))]
  const usual: Resistance = {
    at: (_, v) => USUAL.rolling * massKg + USUAL.drag * v * v,
    doubt: (v) => USUAL.doubt * (USUAL.rolling * massKg + USUAL.drag * v * v),
    isTold: false,
  }
  // Directions of which one alone coasted would leave slope and wind in.
  if (told.length < runs || coasts.length === 0) return usual
  // Hundreds of (m/s)^2 beside ones would fit badly.
  const square = (v: number): number => (v * v) / 1000
  const rows = coasts.map(({ run, v }) => [...told.map((one) => (one === run ? 1 : 0)), square(v)])
  const forces = coasts.map((one) => one.force)
  const values = leastSquares(rows, forces)
  const size = values.length
  const fitted = (row: readonly number[]): number => row.reduce((sum, one, k) => sum + one * values[k]!, 0)
  const spread =
    rows.reduce((sum, row, i) => sum + (forces[i]! - fitted(row)) ** 2, 0) / Math.max(1, rows.length - size)
  const normal = banded(size, size - 1)
  for (const row of rows)
    for (let a = 0; a < size; a++) for (let b = 0; b <= a; b++) addAt(normal, a, b, row[a]! * row[b]!)
  for (let a = 0; a < size; a++) addAt(normal, a, a, 1e-9)
  const inverse = inverseOf(normal)
  // Neighbouring fits share their readings: some ten of them are one.
  const shared = 10
  return {
    at: (run, v) => fitted([...told.map((one) => (one === run ? 1 : 0)), square(v)]),
    doubt: (v) => {
      const row = [...told.map(() => 1 / told.length), square(v)]
      const variance = row.reduce(
        (sum, one, a) => sum + row.reduce((total, other, b) => total + one * other * inverse[a]![b]!, 0),
        0,
      )
      return Math.sqrt(shared * spread * Math.max(0, variance))
    },
    isTold: true,
  }
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
