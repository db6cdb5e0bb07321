import { SHED, shedRides, type Shed } from '../../reference/shedRides'
import { seeds } from '../../reference/seeds'
import { DEFAULT_TARGET } from '../field/target'
import { DEFAULT_COMPARE } from './compare'
import { compareSides, type SidesChoice } from './compareSides'
import { DEFAULT_CURVE } from './curve'
import type { Side } from './side'

/** N·m of a small engine: throttled more the faster it turns. */
const torque = (rpm: number, opening: number): number =>
  (26 + 6 * Math.sin((rpm - 2000) / 2600)) * (1 - Math.exp((-opening / 11) * (3500 / Math.max(rpm, 900))))
const MACHINE: Shed = { ...SHED, torque }

const side = (name: string, shed: Shed, opening: number, first: number): Side => {
  const runs = shedRides(shed, [opening], 3, first)
  return {
    name,
    machine: 'mine',
    setFacts: { rig: 'Shed brake', gear: 4, sensorPlace: null, weather: null },
    runs,
    besides: [],
    facts: runs.map(() => null),
    curve: { ...DEFAULT_CURVE, lag: 0.09 },
    figures: null,
  }
}
const choice = (stop: number): SidesChoice => ({
  quantity: 'torque',
  correction: 'none',
  bands: [],
  at: [],
  accepted: [],
  options: DEFAULT_COMPARE,
  stop,
  load: stop,
  loadAxis: 'throttle',
  target: DEFAULT_TARGET,
})

describe('files that begin at idle, run up and roll out again', () => {
  it.each([18, 27, 42, 63, 100].flatMap((stop) => seeds(4, 1).map((seed) => [stop, seed] as const)))(
    'equal sets at %i %% differ by 2 %% at the most, and have no hole, seed %i',
    (stop, seed) => {
      const sets = [1, 50].map((first) =>
        side(`set ${first}`, { ...MACHINE, seed, hz: 20 + 7 * seed, idlePlate: 1.4 + 2 * seed }, stop, first),
      )
      const { comparison, first, second } = compareSides([sets[0]!], sets[1]!, choice(stop))
      const { rpm, difference, second: curve } = comparison!
      const bins = rpm.flatMap((at, k) => (curve[k] === null ? [] : [{ at, torque: curve[k]!, off: difference[k] }]))
      expect(bins.length).toBeGreaterThan(50)
      // Not a row of idle or of the run up to the stop.
      expect(bins[0]!.at).toBeGreaterThan(2250)
      for (const one of bins) {
        expect(Math.abs(one.torque / torque(one.at, stop) - 1)).toBeLessThan(0.03)
        if (one.off != null) expect(Math.abs(one.off / one.torque)).toBeLessThan(0.02)
      }
      expect([...first.holes, ...second.holes]).toEqual([])
    },
  )
})
