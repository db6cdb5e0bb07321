/**
 * An adaptive plan against the fixed one of eight stops and three repeats a pass, on the simulated machine whose truth is
 * known: as flat between the cells, in at most half the runs (limits as the design sets them: 1 % RMS, 3 % worst), over what an
 * engine reaches: a small opening does not rev out.
 */
import { DEFAULT_TARGET, targetOn } from '../src/field/target'
import { loopZoneAt } from '../src/simulator/controller'
import { DEFAULT_LIVE, liveRig } from '../src/simulator/liveRig'
import { rigOf, SIMULATED_MACHINES } from '../src/simulator/machinesById'
import { steadyLambda } from '../src/simulator/rig'
import { interpolate } from '../src/table/lookup'
import { reachOf } from '../src/plan/reach'
import { adaptivePasses, measurableCase, measurableRig, WANTED } from './adaptivePasses'
import { knownCase, random } from './knownTruthLog'
import { seeds } from './seeds'

/** Eight stops, three repeats: one pass. */
const FIXED_RUNS = 8 * 3

/** Highest speed at an opening: straight between that of 10 % and the whole span at 20. */
function reached(plate: number): number {
  const [fromRpm, toRpm] = WANTED.rpm
  const short = reachOf(10, { fromRpm, toRpm })
  return Math.min(toRpm, short + ((plate - 10) / 10) * (toRpm - short))
}

it.each(seeds(6, 1))('as flat in at most half the runs, seed %i', (seed) => {
  const rig = rigOf(SIMULATED_MACHINES.find((one) => one.id === 'curlew-437-short-silencer')!)
  const adapted = adaptivePasses(measurableRig(rig, liveRig(rig, { ...DEFAULT_LIVE, coolant: 84 }, seed)))
  expect(adapted.last.enough).toBe(true)
  expect(adapted.runs).toBeLessThanOrEqual(FIXED_RUNS / 2)
  const { base } = rig.calibration
  const target = targetOn(base, 'throttle', DEFAULT_TARGET)
  const next = random(100 + seed)
  const errors = Array.from({ length: 1500 }, () => ({ rpm: 2800 + 5900 * next(), plate: 10 + 90 * next() }))
    // The loop's zone and what lies between it and the next stop is left alone.
    .filter(({ rpm, plate }) => !loopZoneAt(rig.calibration, rpm, plate) && !(plate < 20 && rpm < 4700))
    .filter(({ rpm, plate }) => rpm <= reached(plate))
    .map(({ rpm, plate }) => 100 * (steadyLambda(rig, 0, rpm, plate) / interpolate(base, target, rpm, plate) - 1))
  expect(errors.length).toBeGreaterThan(1000)
  expect(Math.sqrt(errors.reduce((sum, one) => sum + one * one, 0) / errors.length)).toBeLessThan(1)
  expect(Math.max(...errors.map(Math.abs))).toBeLessThan(3)
})

/** So rich that no pass may lean it as far as it needs: 3 to 9 % off its target, slanting with rpm and load. */
const rich = (rpm: number, load: number): number =>
  -0.06 + 0.015 * Math.sin(rpm / 1400) + 0.01 * Math.sin(load / 22 + rpm / 3000)

// Some twenty fields a pass: not while one works.
const SEEDS = seeds(2, 0)
if (SEEDS.length)
  it.each(SEEDS)('corrects and measures on where one pass may not go all the way, seed %i', (seed) => {
    const plain = knownCase(41 * seed, { held: [], misfire: null, hz: 10 })
    const machine = measurableCase({ ...plain, target: targetOn(plain.grid, 'throttle', DEFAULT_TARGET), truth: rich })
    const adapted = adaptivePasses(machine)
    expect(adapted.last.enough).toBe(true)
    // 4 % leaner a pass, 2.5 under load.
    expect(adapted.corrections).toBeGreaterThanOrEqual(3)
    expect(adapted.runs).toBeLessThanOrEqual((adapted.corrections * FIXED_RUNS) / 2)
    const next = random(200 + seed)
    const left = Array.from({ length: 1500 }, () => ({ rpm: 2800 + 5900 * next(), plate: 10 + 90 * next() }))
      // Between two rows of the table as far as runs reach at the lower.
      .filter(({ rpm, plate }) => rpm <= reached(plate < 20 ? 10 : 20))
      .map(({ rpm, plate }) => 100 * (Math.exp(machine.left(rpm, plate)) - 1))
    expect(left.length).toBeGreaterThan(1000)
    expect(Math.sqrt(left.reduce((sum, one) => sum + one * one, 0) / left.length)).toBeLessThan(1)
    expect(Math.max(...left.map(Math.abs))).toBeLessThan(3)
  })
