import { knownCase, knownRuns } from '../../../trials/knownTruthLog'
import { DEFAULT_FILTERS } from '../../run/run'
import { steadyMixture } from './steadyMixture'

const steep = (rpm: number): number => (0.05 * (rpm - 5000)) / 1000
const runs = knownRuns(knownCase(3, { truth: steep, held: [], misfire: null, stops: [20, 40], repeats: 2 }))
const steady = steadyMixture(runs, DEFAULT_FILTERS, null)!

test('how the mixture moves along speed is told, by the openings that were held', () => {
  for (const load of [20, 30, 40])
    expect(steady.at(7000, load) - steady.at(4000, load)).toBeCloseTo(steep(7000) - steep(4000), 1.7)
  expect(steady.slope).toBeGreaterThan(0.04)
  expect(steady.slope).toBeLessThan(0.06)
  expect(steady.bend).toBeLessThan(0.015)
})

test('nothing is told of openings that nobody held', () => {
  expect(steady.at(5000, 90)).toBeNaN()
  expect(steady.at(5000, 2)).toBeNaN()
})

test('a spike of the pick-up does not stretch the speeds', () => {
  const [first, ...others] = runs
  const rpm = first!.rpm.map((value, i) => (i % 400 === 5 ? 90_000 : value))
  const spiked = steadyMixture([{ ...first!, rpm }, ...others], DEFAULT_FILTERS, null)!
  expect(spiked.at(7000, 20) - spiked.at(4000, 20)).toBeCloseTo(0.15, 1.7)
})

test('without a mixture, or without anything settled, there is none', () => {
  expect(steadyMixture([], DEFAULT_FILTERS, null)).toBeNull()
  const bare = runs.map((run) => ({ ...run, lambda: [] }))
  expect(steadyMixture(bare, DEFAULT_FILTERS, null)).toBeNull()
  const cold = runs.map((run) => ({ ...run, coolant: run.rpm.map(() => 20) }))
  expect(steadyMixture(cold, DEFAULT_FILTERS, null)).toBeNull()
})
