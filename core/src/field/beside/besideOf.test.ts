import { seededRandom } from '../../numbers/random'
import { DEFAULT_FILTERS, type RunColumns } from '../../run/run'
import { besideOf } from './besideOf'

const grid = { rpm: [3000, 5000, 7000], load: [20, 60, 100], loadAxis: 'throttle' as const }

/** A hold at each cell in turn; gas by a formula: hotter with load and speed, and by so much for each percent leaner. */
function run(id: string, lambda: number, perPercent: number, seed: number, hunts = 0): RunColumns {
  const { normal } = seededRandom(seed)
  const cells = grid.load.flatMap((load) => grid.rpm.map((rpm) => ({ load, rpm })))
  const rows = cells.flatMap(({ load, rpm }, k) =>
    Array.from({ length: 200 }, (_, n) => {
      const t = 10 * k + n / 20
      const here = lambda * (1 + 0.003 * normal() + hunts * Math.sin(2 * Math.PI * t))
      const heat = 480 + load + rpm / 50 + perPercent * 100 * (lambda / 0.88 - 1) + 3 * normal()
      return { t, rpm: rpm + 5 * normal(), load, here, heat, duty: rpm / 100 }
    }),
  )
  const of = (pick: (row: (typeof rows)[number]) => number): Float32Array => Float32Array.from(rows, pick)
  return {
    id,
    time: of((one) => one.t),
    rpm: of((one) => one.rpm),
    throttle: of((one) => one.load),
    lambda: [of((one) => one.here)],
    beside: { exhaust1: of((one) => one.heat), duty: of((one) => one.duty) },
  }
}
const told = (runs: RunColumns[]) =>
  besideOf(runs, grid, { lag: 0, filters: DEFAULT_FILTERS }, (channel) => (channel === 'duty' ? 65 : 600))

describe('what was read beside the mixture', () => {
  it('mean and most by cell, each with its limit', () => {
    const { channels } = told([run('a', 0.88, 8, 1)])
    const duty = channels.find((one) => one.channel === 'duty')!
    expect(duty.mean[0]).toEqual([30, 50, 70])
    expect(duty.limit).toBe(65)
    const heat = channels.find((one) => one.channel === 'exhaust1')!
    expect(heat.mean[2]![2]!).toBeCloseTo(480 + 100 + 140, 0)
    expect(heat.most[2]![2]!).toBeGreaterThan(heat.mean[2]![2]!)
  })

  it('leaner and hotter bear each other out, within the interval', () => {
    const { heat } = told([run('a', 0.86, 8, 1), run('b', 0.88, 8, 2), run('c', 0.9, 8, 3)])
    expect(heat.verdict).toBe('agree')
    expect(heat.low!).toBeLessThan(8)
    expect(heat.high!).toBeGreaterThan(8)
  })

  it('leaner and cooler cannot be: a sensor lies', () => {
    expect(told([run('a', 0.86, -6, 1), run('b', 0.9, -6, 2)]).heat.verdict).toBe('disagree')
  })

  it('mixtures that are all alike, and one run alone, tell nothing of it', () => {
    expect(told([run('a', 0.88, 8, 1), run('b', 0.8801, 8, 2)]).heat.verdict).toBe('untold')
    expect(told([run('a', 0.88, 8, 1)]).heat.verdict).toBe('untold')
  })

  it('a mixture that hunts once a second is less steady by what it hunts', () => {
    const [calm, hunting] = [0, 0.02].map((hunts) => told([run('a', 0.88, 8, 1, hunts)]).steadyPct[1]![1]!)
    expect(calm!).toBeLessThan(0.4)
    // An amplitude of 2 % is 1.41 % of scatter; means over 0.3 s take 14 % off a swing of one second.
    expect(hunting!).toBeGreaterThan(1)
    expect(hunting!).toBeLessThan(1.45)
  })
})
