/**
 * Readings by hand, typed as a range of a gauge with one figure after the point, at places that are no breakpoints. Truths of
 * bumps at random: three speeds do not tell a flat engine from one that bends between them, so that a flat one is held more often.
 */
import { estimateField } from '../src/field/estimate'
import { DEFAULT_FIELD_OPTIONS } from '../src/field/field'
import { handColumns, type HandReading } from '../src/log/handReadings'
import type { LoadGrid } from '../src/table/table'
import { normal, random } from './knownTruthLog'
import { seeds } from './seeds'

const SCALE = 14.7
const TARGET = 0.9
const GRID: LoadGrid = {
  loadAxis: 'throttle',
  rpm: [1500, 2500, 3500, 4500, 5500, 6500, 7500, 8500],
  load: [0, 5, 10, 20, 30, 40, 60, 80, 100],
}
const PLANS: [string, number[], number[]][] = [
  ['3 x 10', [3000, 5000, 7000], [6, 13, 22, 28, 37, 46, 58, 71, 86, 97]],
  ['5 x 6', [2700, 3900, 5100, 6300, 7500], [8, 15, 25, 50, 75, 98]],
  ['8 x 11', [2600, 3300, 4000, 4700, 5400, 6100, 6800, 7400], [7, 12, 18, 27, 36, 44, 55, 66, 77, 88, 98]],
]

function bumps(next: () => number): (rpm: number, load: number) => number {
  const all = Array.from({ length: 9 }, () => ({
    rpm: 3000 + 4000 * next(),
    load: 100 * next(),
    wide: 700 + 500 * next(),
    high: 12 + 16 * next(),
    size: 0.035 * normal(next),
  }))
  const tilt = 0.01 * normal(next)
  return (rpm, load) =>
    all.reduce(
      (sum, one) =>
        sum + one.size * Math.exp(-(((rpm - one.rpm) / one.wide) ** 2) - ((load - one.load) / one.high) ** 2),
      0.02 + (tilt * (rpm - 5000)) / 2500,
    )
}

describe.each(PLANS)('%s readings between breakpoints', (_what, speeds, openings) => {
  it.each([0.006, 0.012])('have intervals that hold the truth as often as they say, gauge read to %d', (error) => {
    let [among, told, held] = [0, 0, 0]
    for (const seed of seeds(30, 10)) {
      const next = random(977 * seed + openings.length)
      const truth = bumps(next)
      const rows = speeds.flatMap((rpm) =>
        openings.map((load): HandReading => {
          const shown = SCALE * TARGET * Math.exp(truth(rpm, load)) * (1 + error * normal(next))
          const swing = Math.abs(0.05 * normal(next))
          return { rpm, load, readings: [`${(shown - swing).toFixed(1)}-${(shown + swing).toFixed(1)}`] }
        }),
      )
      const made = handColumns(rows, { scale: SCALE, loadAxis: 'throttle' })
      if ('faults' in made) throw new Error(JSON.stringify(made.faults))
      const { load: throttle, ...columns } = made.columns
      const { cylinders } = estimateField([{ id: 'hand', ...columns, throttle }], {
        ...DEFAULT_FIELD_OPTIONS,
        grid: GRID,
        target: GRID.load.map(() => GRID.rpm.map(() => TARGET)),
        hasLoop: false,
      })
      GRID.load.forEach((load, row) =>
        GRID.rpm.forEach((rpm, column) => {
          const [low, high] = [cylinders[0]!.lowPct[row]![column], cylinders[0]!.highPct[row]![column]]
          const isAmong = rpm >= speeds[0]! && rpm <= speeds.at(-1)! && load >= openings[0]! && load <= openings.at(-1)!
          if (isAmong) among++
          if (low == null || high == null) return
          if (isAmong) told++
          const need = 100 * (Math.exp(truth(rpm, load)) - 1)
          if (isAmong && need >= low && need <= high) held++
        }),
      )
    }
    expect(told / among).toBeGreaterThan(0.9)
    expect(held / told).toBeGreaterThan(0.85)
    expect(held / told).toBeLessThan(0.98)
  })
})
