import { normal, random } from '../../../trials/knownTruthLog'
import type { LoadGrid } from '../../table/table'
import { learnScales, QUICK_STEPS, type Scales } from './learnScales'
import { stretchesOf, sumOverNodes } from './nodeSums'
import { place } from '../readings/placement'
import type { Samples } from '../readings/samples'

const grid: LoadGrid = {
  loadAxis: 'throttle',
  rpm: Array.from({ length: 15 }, (_, k) => 2000 + 500 * k),
  load: [5, 10, 20, 30, 40, 60, 80, 100],
}
const NOISE = 0.012
const LEVEL = 0.003

/** Sweeps of a truth, at every row three of them. */
function learnt(
  seed: number,
  truth: (rpm: number, load: number) => number,
  {
    steps,
    runs = grid.load.flatMap((load) => [load, load, load]),
  }: { steps?: readonly number[]; runs?: number[] } = {},
): Scales {
  const next = random(seed)
  const each = 400
  const levels = runs.map(() => LEVEL * normal(next))
  const all = runs.flatMap((load, run) => Array.from({ length: each }, (_, k) => ({ load, run, k })))
  const of = (f: (one: (typeof all)[number]) => number): Float32Array => Float32Array.from(all, f)
  const rpm = of(({ k }) => 2000 + (7000 * k) / each)
  const load = of((one) => one.load)
  const y = of((one) => truth(2000 + (7000 * one.k) / each, one.load) + levels[one.run]! + NOISE * normal(next))
  const run = Uint16Array.from(all, (one) => one.run)
  const samples = { count: all.length, time: of(({ k }) => k / 50), rpm, load, run } as unknown as Samples
  const weight = new Float32Array(all.length).fill(1)
  const sums = sumOverNodes(place(grid, rpm, load), y, weight, stretchesOf(samples))
  return learnScales(grid, sums, NOISE ** 2, steps).scales
}

const hole = (rpm: number): number => 0.06 * Math.exp(-(((rpm - 5200) / 1100) ** 2))
const root = (load: number): number => 4 * Math.sqrt(load / 100)
const EVEN = (rpm: number, load: number): number =>
  hole(rpm) * (0.4 + load / 170) + 0.02 * Math.sin(rpm / 900 + load / 40)
/** Bumps about single openings. */
const UNEVEN = (rpm: number, load: number): number =>
  hole(rpm) +
  0.03 * Math.exp(-(((root(load) - 1.3) / 0.35) ** 2) - ((rpm - 4000) / 900) ** 2) -
  0.03 * Math.exp(-(((root(load) - 2.5) / 0.4) ** 2) - ((rpm - 7000) / 800) ** 2) +
  0.02 * Math.exp(-(((root(load) - 3.1) / 0.4) ** 2) - ((rpm - 3000) / 700) ** 2)

describe.each([1, 2, 3])('scales learnt from readings, seed %i', (seed) => {
  const [even, uneven] = [learnt(seed, EVEN), learnt(seed, UNEVEN)]
  it('bends that go on along load are learnt to, those about single openings are not', () => {
    expect(even.third).toBeGreaterThan(0)
    expect(uneven.third).toBe(0)
    expect(even.load).toBeGreaterThan(uneven.load)
  })
  it('how runs differ is learnt within a factor of two', () => {
    for (const { level } of [even, uneven]) {
      expect(level).toBeGreaterThan(LEVEL / 2)
      expect(level).toBeLessThan(2 * LEVEL)
    }
  })
  it('few runs teach nothing of how bends change', () => expect(learnt(seed, UNEVEN, { runs: [20, 80] }).third).toBe(0))
  it('a quick look leaves the change of bends alone', () =>
    expect(learnt(seed, EVEN, { steps: QUICK_STEPS }).third).toBe(0))
})
