import { GRID, knownCase, knownRuns, manifoldAt } from '../../../trials/knownTruthLog'
import { DEFAULT_FILTERS } from '../../run/run'
import type { LoadGrid } from '../../table/table'
import { gatherSamples } from '../readings/samples'
import { zonesByStop } from './zonesByStop'

const grid: LoadGrid = { loadAxis: 'manifold', rpm: GRID.rpm, load: [20, 30, 40, 50, 60, 70, 80, 90, 100] }
const held = { mostLoad: 12, from: 2600, to: 4400 }
const gathered = (over: object) => {
  const runs = knownRuns(
    knownCase(5, {
      grid,
      target: grid.load.map(() => grid.rpm.map(() => 0.93)),
      stops: [5, 10, 20, 40],
      truth: () => -0.02,
      ...over,
    }),
  )
  return { runs, samples: gatherSamples(runs, { loadAxis: 'manifold', lag: 0.26, filters: DEFAULT_FILTERS }) }
}

it('a loop that lets go by plate is found on every row of pressure that its stops pass through', () => {
  const { runs, samples } = gathered({ held: [held] })
  const zones = zonesByStop(grid, samples, runs, samples.lambda[0]!)
  // The stop at 10 % goes from 70 kPa where the loop begins to 61 where it lets go; that at 5 % from 55 to 46.
  expect(manifoldAt(3000, 10)).toBeCloseTo(70, 0)
  expect(zones.map((one) => grid.load[one.row])).toEqual(expect.arrayContaining([50, 60, 70]))
  for (const { row, fromRpm, toRpm, load } of zones) {
    expect(fromRpm).toBeGreaterThan(held.from - 150)
    expect(toRpm).toBeLessThan(held.to + 150)
    expect(Math.abs(load - grid.load[row]!)).toBeLessThan(5)
  }
})
it('nothing is found without a loop, nor without a throttle', () => {
  const open = gathered({ held: [] })
  expect(zonesByStop(grid, open.samples, open.runs, open.samples.lambda[0]!)).toEqual([])
  const { runs, samples } = gathered({ held: [held] })
  const blind = runs.map((run) => ({ ...run, throttle: undefined }))
  expect(zonesByStop(grid, samples, blind as typeof runs, samples.lambda[0]!)).toEqual([])
})
