import { seeds } from '../../trials/seeds'
import { handColumns, type HandReading } from '../log/handReadings'
import { OPENING_ROWS, openingReadings, readingSpeeds } from '../jetting/openingReadings'
import type { RunColumns } from '../run/run'
import type { LoadGrid } from '../table/table'
import { estimateField } from './estimate'
import { DEFAULT_FIELD_OPTIONS, type Field } from './field'

const SCALE = 14.7
const TARGET = 0.9

/** A congruential generator of its own (Park and Miller 1988), and a normal number by twelve of its. */
function chance(seed: number): () => number {
  let state = (seed * 48271 + 5) % 2147483647
  const uniform = (): number => (state = (state * 48271) % 2147483647) / 2147483647
  return () => Array.from({ length: 12 }, uniform).reduce((sum, one) => sum + one, -6)
}

/** Readings as somebody writes them down who watches a gauge with one figure after the point: a range where it moves. */
function readings(
  speeds: readonly number[],
  openings: readonly number[],
  need: (rpm: number, opening: number) => number,
  seed: number,
): RunColumns {
  const next = chance(seed)
  const rows = speeds.flatMap((rpm) =>
    openings.map((load): HandReading => {
      const afr = SCALE * TARGET * Math.exp(need(rpm, load)) * (1 + 0.006 * next())
      const swing = Math.abs(0.05 * next())
      return { rpm, load, readings: [`${(afr - swing).toFixed(1)}-${(afr + swing).toFixed(1)}`] }
    }),
  )
  const made = handColumns(rows, { scale: SCALE, loadAxis: 'throttle' })
  if ('faults' in made) throw new Error(JSON.stringify(made.faults))
  const { time, rpm, load, lambda, handRange } = made.columns
  return { id: 'hand', time, rpm, throttle: load, lambda, handRange }
}
const fieldOf = (run: RunColumns, grid: LoadGrid): Field =>
  estimateField([run], {
    ...DEFAULT_FIELD_OPTIONS,
    grid,
    target: grid.load.map(() => grid.rpm.map(() => TARGET)),
    hasLoop: false,
  })

describe('readings by hand at places that are no breakpoints', () => {
  const speeds = [3000, 5000, 7000]
  const openings = [6, 13, 22, 28, 37, 46, 58, 71, 86, 97]
  const grid: LoadGrid = {
    loadAxis: 'throttle',
    rpm: [1500, 2500, 3500, 4500, 5500, 6500, 7500, 8500],
    load: [0, 5, 10, 20, 30, 40, 60, 80, 100],
  }
  it('cells among them have a number, beyond them none has, and intervals hold the truth in 85 of 100 at the least', () => {
    let [among, told, beyond, covered] = [0, 0, 0, 0]
    for (const seed of seeds(20, 6)) {
      const need = (rpm: number, opening: number): number =>
        0.04 * Math.sin(rpm / 1900 + seed) + 0.03 * Math.cos(opening / 24 + seed)
      const [one] = fieldOf(readings(speeds, openings, need, seed), grid).cylinders
      grid.load.forEach((load, row) =>
        grid.rpm.forEach((rpm, column) => {
          const [low, high] = [one!.lowPct[row]![column], one!.highPct[row]![column]]
          if (rpm >= 2500 && rpm <= 7500 && load >= 5) {
            among++
            if (low != null) told++
          } else if ((rpm < 2500 || rpm > 7500) && low != null) beyond++
          if (low == null || high == null) return
          const truth = 100 * (Math.exp(need(rpm, load)) - 1)
          if (truth >= low && truth <= high) covered++
        }),
      )
    }
    expect(told / among).toBeGreaterThan(0.8)
    expect(beyond).toBe(0)
    expect(covered / told).toBeGreaterThan(0.85)
  })
  it('a lone reading tells of the cell that it lies in', () => {
    const [one] = fieldOf(
      readings([5000], [36], () => 0.05, 3),
      grid,
    ).cylinders
    const told = grid.load.flatMap((load, row) =>
      grid.rpm.flatMap((rpm, column) => (one!.lowPct[row]![column] == null ? [] : [`${rpm} ${load}`])),
    )
    expect(told).toEqual(['4500 30', '5500 30', '4500 40', '5500 40'])
    expect(one!.changePct[4]![3]!).toBeCloseTo(5, 0)
  })
})

describe('a kart read by hand from 7,000 to 13,000 rpm', () => {
  it('has readings at its own speeds, at openings that are no rows, too', () => {
    const need = (_: number, opening: number): number => 0.05 * Math.sin(opening / 30)
    const run = readings([7000, 9100, 11_300, 13_000], [7, 18, 33, 52, 77, 100], need, 5)
    const rpm = readingSpeeds([{ facts: { fromRpm: 7000, toRpm: 13_000 } }])
    expect(rpm[0]).toBeLessThan(7000)
    expect(rpm.at(-1)).toBeGreaterThan(12_999)
    const rows = openingReadings(fieldOf(run, { loadAxis: 'throttle', rpm, load: [...OPENING_ROWS] }), [1])
    expect(rows.length).toBeGreaterThan(7)
    for (const { opening, lambda } of rows)
      expect(Math.abs(Math.log(lambda / TARGET) - need(0, 100 * opening))).toBeLessThan(0.02)
  })
})
