import { random } from '../../../trials/knownTruthLog'
import type { RunColumns } from '../../run/run'
import { compareSides, type SidesChoice } from '../compare/compareSides'
import { DEFAULT_TARGET } from '../../field/target'
import { DEFAULT_CURVE } from './curve'
import { oddRunWords } from './oddRunWords'
import { overlay, rulerOver } from './overlay'
import type { Side } from '../compare/side'
import { DEFAULT_COMPARE } from '../compare/compare'

const MISS = { from: 5600, to: 6700 }
/** A twin at an opening, swept in so many seconds; in `runs` of its files one cylinder is silent in a band. */
function files(misses: (k: number) => boolean, count = 4, seed = 5): RunColumns[] {
  return Array.from({ length: count }, (_, k) => {
    const next = random(seed + 31 * k)
    const n = 1100
    const time = Float32Array.from({ length: n }, (_v, i) => i / 60)
    const rpm = time.map((t) => 2900 + 340 * t)
    const isOut = (i: number): boolean => misses(k) && rpm[i]! > MISS.from && rpm[i]! < MISS.to
    return {
      id: `file ${k}`,
      time,
      rpm,
      throttle: time.map(() => 62 + 0.1 * next()),
      torque: rpm.map((one, i) => (47 - ((one - 6200) / 900) ** 2 + 0.3 * next()) * (isOut(i) ? 0.52 : 1)),
      lambda: [rpm.map((_r, i) => (isOut(i) ? 1.06 + 0.03 * next() : 0.9 + 0.005 * next()))],
    }
  })
}
const side = (name: string, runs: RunColumns[]): Side => ({
  name,
  machine: 'one',
  setFacts: { rig: 'drum', gear: 4, sensorPlace: null, weather: null },
  runs,
  besides: [],
  facts: runs.map(() => null),
  curve: DEFAULT_CURVE,
  figures: null,
  cylinders: 2,
})
const CHOICE: SidesChoice = {
  quantity: 'torque',
  correction: 'none',
  load: 62,
  loadAxis: 'throttle',
  target: DEFAULT_TARGET,
  bands: [{ fromRpm: 3500, toRpm: 8500 }],
  at: [],
  accepted: [],
  options: DEFAULT_COMPARE,
  stop: 62,
}

describe('a misfire is one finding', () => {
  it('of one file among its repeats: out of the mean, and the probe that reads two cylinders names none', () => {
    const runs = files((k) => k === 2)
    const laid = overlay(runs, rulerOver(runs)!, DEFAULT_CURVE, 1)
    const [odd] = laid.odd
    expect(odd!.misfire).not.toBeNull()
    const bin = Math.round((6200 - laid.ruler.first) / laid.ruler.step)
    expect(laid.spread.torque.mean[bin]!).toBeGreaterThan(46)
    expect(laid.spread.lambda.mean[bin]!).toBeLessThan(0.92)
    // The line that is drawn stays as it was read.
    expect(laid.values.torque[2]![bin]!).toBeLessThan(30)
    const known = { probes: 1, cylinders: 2, name: (n: number) => `cylinder ${n}` }
    expect(oddRunWords(odd!, known)).toMatch(/one of the cylinders that probe 1 reads; one probe cannot tell which/)
    expect(oddRunWords(odd!, { ...known, cylinders: 1 })).toMatch(/misfire of cylinder 1/)
    expect(oddRunWords(odd!, { ...known, cylinders: null })).toMatch(/misfire of a cylinder:/)
  })
  it.each([
    ['some of the files', (k: number) => k === 1],
    ['all of them', () => true],
  ])('of %s after: no hole that wants fuel, no loss in the gains, and it is said where', (_what, misses) => {
    const told = compareSides(
      [
        side(
          'before',
          files(() => false),
        ),
      ],
      side('after', files(misses, 4, 77)),
      CHOICE,
    )
    expect(told.second.misfires.length).toBeGreaterThan(0)
    for (const { fromRpm, toRpm } of told.second.misfires) {
      expect(fromRpm).toBeGreaterThan(MISS.from - 500)
      expect(toRpm).toBeLessThan(MISS.to + 500)
    }
    expect(told.second.holes).toEqual([])
    // Where nothing sound is left of a band, no gain is told of it.
    const mean = told.gains.find((one) => one.what === 'mean over a band')
    expect(Math.abs(mean?.difference ?? 0)).toBeLessThan(0.5)
  })
})
