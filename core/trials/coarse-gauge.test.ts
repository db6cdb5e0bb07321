/**
 * A field from a gauge that shows coarse figures: an air-fuel ratio in steps of 0.2 (common practice of cheap gauges), lambda
 * in steps of 0.02. Most readings of a cell then show one and the same figure; those that show the next are no outliers,
 * and how many there are of each is what tells the mixture between the two.
 */
import { estimateField } from '../src/field/estimate'
import { DEFAULT_FIELD_OPTIONS } from '../src/field/field'
import { knownCase, knownRuns } from './knownTruthLog'
import { seeds } from './seeds'

describe.each([
  ['an air-fuel ratio in steps of 0.2', 0.2 / 14.7],
  ['lambda in steps of 0.02', 0.02],
])('%s', (_what, step) => {
  it.each(seeds(3, 1))('tells the change within 0.35 % RMS, and its interval holds it, seed %i', (seed) => {
    const c = knownCase(29 * seed, { held: [], misfire: null, noise: 0.005 })
    const runs = knownRuns(c).map((run) => ({
      ...run,
      lambda: run.lambda.map((column) => column.map((value) => Math.round(value / step) * step)),
    }))
    const [one] = estimateField(runs, { ...DEFAULT_FIELD_OPTIONS, grid: c.grid, target: c.target }).cylinders
    const errors = c.stops.flatMap((load) =>
      c.grid.rpm.flatMap((rpm, k) => {
        const row = c.grid.load.indexOf(load)
        const [change, low, high] = [one!.changePct[row]![k], one!.lowPct[row]![k], one!.highPct[row]![k]]
        if (change == null || one!.evidence[row]![k] !== 'solid') return []
        const need = 100 * (Math.exp(c.truth(rpm, load)) - 1)
        return [{ off: change - need, isInside: need >= low! && need <= high! }]
      }),
    )
    expect(errors.length).toBeGreaterThan(80)
    expect(Math.sqrt(errors.reduce((sum, { off }) => sum + off * off, 0) / errors.length)).toBeLessThan(0.35)
    expect(errors.filter(({ isInside }) => isInside).length / errors.length).toBeGreaterThan(0.85)
  })
})
