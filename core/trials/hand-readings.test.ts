/**
 * Readings by hand here and there, of a known truth: 90 % intervals hold it as often as they say, at the readings and between
 * them, though a single figure was typed for each. Each errs by 0.6 %, about what a gauge is read to by eye (common practice).
 */
import { estimateField } from '../src/field/estimate'
import { DEFAULT_FIELD_OPTIONS } from '../src/field/field'
import type { RunColumns } from '../src/run/run'
import { interpolate } from '../src/table/lookup'
import { GRID, knownCase, normal, random } from './knownTruthLog'
import { seeds } from './seeds'

const ERROR = 0.006
const { target } = knownCase(1)

/** Some bumps of up to 8 %, of the widths that an exhaust or a filter brings. */
function bumpyTruth(next: () => number): (rpm: number, load: number) => number {
  const bumps = Array.from({ length: 6 }, () => ({
    rpm: 2000 + 8000 * next(),
    load: 4 + 96 * next(),
    wide: 1500 + 2500 * next(),
    high: 20 + 50 * next(),
    size: 0.08 * (2 * next() - 0.9),
  }))
  return (rpm, load) =>
    bumps.reduce(
      (sum, { size, ...bump }) =>
        sum + size * Math.exp(-(((rpm - bump.rpm) / bump.wide) ** 2) - ((load - bump.load) / bump.high) ** 2),
      0.01,
    )
}

/** Cells that are known, whether their truth lies in the interval, and whether readings lie at them. */
function tried(count: number, seed: number, range = 0) {
  const next = random(131 * seed + count)
  const truth = bumpyTruth(next)
  const places = Array.from({ length: count }, () => ({
    rpm: 2000 + 100 * Math.round(75 * next()),
    load: [5, 10, 20, 30, 40, 60, 80, 100][Math.floor(8 * next())]!,
  }))
  const read = ({ rpm, load }: (typeof places)[number]): number =>
    interpolate(GRID, target, rpm, load) * Math.exp(truth(rpm, load)) * (1 + ERROR * normal(next))
  const run: RunColumns = {
    id: 'by hand',
    time: Float32Array.from(places, (_, k) => k),
    rpm: Float32Array.from(places, (one) => one.rpm),
    throttle: Float32Array.from(places, (one) => one.load),
    lambda: [Float32Array.from(places, read)],
    handRange: new Float32Array(count).fill(range),
  }
  const [field] = estimateField([run], { ...DEFAULT_FIELD_OPTIONS, grid: GRID, target }).cylinders
  return GRID.load.flatMap((load, row) =>
    GRID.rpm.flatMap((rpm, k) => {
      const [low, high, grade] = [field!.lowPct[row]![k], field!.highPct[row]![k], field!.evidence[row]![k]!]
      if (low == null || high == null) return []
      const need = 100 * (Math.exp(truth(rpm, load)) - 1)
      return [{ isBridged: grade === 'bridged', isInside: need >= low && need <= high }]
    }),
  )
}

describe.each([8, 16])('%i readings by hand', (count) => {
  const all = seeds(60, 20).map((seed) => tried(count, seed))
  it.each([false, true])('are known as well as they say; between them: %s', (isBridged) => {
    const cells = all.flat().filter((one) => one.isBridged === isBridged)
    const share = cells.filter((one) => one.isInside).length / cells.length
    expect(cells.length).toBeGreaterThan(20)
    // Three deviations of cells that hang together in threes.
    expect(Math.abs(share - 0.9)).toBeLessThan(0.03 + 3 * Math.sqrt((0.09 * 3) / cells.length))
  })
  it('all count: a single figure tells as many cells as one typed with its range', () => {
    const measured = (cells: ReturnType<typeof tried>): number => cells.filter((one) => !one.isBridged).length
    const withRange = seeds(60, 20).map((seed) => tried(count, seed, 0.007))
    expect(measured(all.flat()) / measured(withRange.flat())).toBeGreaterThan(0.95)
  })
})
