import { addAt, banded } from '../../numbers/banded'
import { inverseOf } from '../../numbers/inverseOf'
import { leastSquares } from '../../numbers/leastSquares'
import { firstFrom } from '../../run/firstFrom'
import { touchesWithout, type LeftOutSpan } from '../../run/leftOutByTime'
import { LEAST_ROWS, slopeAt } from './slopeAt'

/** m/s below which a speed tells nothing. */
export const LEAST_SPEED = 5
/** s and m/s that a coast-down must last and lose, and s to either side over which it is fitted. */
const COAST = { seconds: 3, loses: 3 }
const AROUND = 1
/** Share by which the road must turn faster than the engine would, for the clutch to be in. */
const FREE = 1.3
/** Rolling and drag where no coast-down tells: N per kg, and N per (m/s)^2, and how far they may be off. Common practice. */
const USUAL = { rolling: 0.15, drag: 0.36, doubt: 0.3 }

/** Columns that a coast-down is read from, of one length; speed in km/h, NaN between its readings. */
interface CoastColumns {
  time: Float32Array
  rpm: Float32Array
  throttle: Float32Array
  speed: Float32Array
  /** left out by time, s */
  without?: readonly Pick<LeftOutSpan, 'from' | 'to'>[] | null | undefined
}

/** Readings of the road slowing down with the clutch in, after a pull. */
export function coastAfter(
  { time, rpm, throttle, speed, without }: CoastColumns,
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
    const fit = slopeAt(time, metres, i, AROUND, start, end)
    if (fit && fit.level > LEAST_SPEED) found.push({ v: fit.level, slope: fit.slope })
  }
  const speeds = found.map((one) => one.v)
  return Math.max(...speeds) - Math.min(...speeds) >= COAST.loses ? { readings: found, from: start, to: end } : null
}

/** What rolls and drags at a speed, N, of a run, and how far that may be off. */
export interface Resistance {
  at(run: number, v: number): number
  doubt(v: number): number
  isTold: boolean
}

/** Rolling (with the slope of its own direction) by run, drag shared by all, from coast-downs; else as usual. */
export function resistance(
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
