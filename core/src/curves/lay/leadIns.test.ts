import { SHED, shedRides, type Shed } from '../../../trials/shedRides'
import { seeds } from '../../../trials/seeds'
import { torqueChoice, torqueSide } from '../../../trials/torqueSides'
import { compareSides } from '../compare/compareSides'

/** N·m of a small engine: throttled more the faster it turns. */
const torque = (rpm: number, opening: number): number =>
  (26 + 6 * Math.sin((rpm - 2000) / 2600)) * (1 - Math.exp((-opening / 11) * (3500 / Math.max(rpm, 900))))
const MACHINE: Shed = { ...SHED, torque }

describe('files without a throttle that begin at idle, run up and roll out again', () => {
  it.each([63, 100].flatMap((stop) => seeds(6, 2).map((seed) => [stop, seed] as const)))(
    'equal sets at %i %% differ by 2 %% at the most, and have no hole, seed %i',
    (stop, seed) => {
      const sets = [1, 50].map((first) =>
        torqueSide(
          `set ${first}`,
          shedRides({ ...MACHINE, seed, hz: 20 + 7 * seed }, [stop], 3, first).map(
            ({ throttle: _, ...blind }) => blind,
          ),
        ),
      )
      const choice = { ...torqueChoice(stop), stop: null }
      const { comparison, first, second } = compareSides([sets[0]!], sets[1]!, choice)
      const { rpm, difference, second: curve } = comparison!
      const bins = rpm.flatMap((at, k) => (curve[k] === null ? [] : [{ at, torque: curve[k]!, off: difference[k] }]))
      expect(bins.length).toBeGreaterThan(50)
      for (const one of bins) {
        expect(Math.abs(one.torque / torque(one.at, stop) - 1)).toBeLessThan(0.05)
        if (one.off != null) expect(Math.abs(one.off / one.torque)).toBeLessThan(0.02)
      }
      expect([...first.holes, ...second.holes]).toEqual([])
    },
  )
})

describe('files that begin at idle, run up and roll out again', () => {
  it.each([18, 27, 42, 63, 100].flatMap((stop) => seeds(4, 1).map((seed) => [stop, seed] as const)))(
    'equal sets at %i %% differ by 2 %% at the most, and have no hole, seed %i',
    (stop, seed) => {
      const sets = [1, 50].map((first) =>
        torqueSide(
          `set ${first}`,
          shedRides({ ...MACHINE, seed, hz: 20 + 7 * seed, idlePlate: 1.4 + 2 * seed }, [stop], 3, first),
        ),
      )
      const { comparison, first, second } = compareSides([sets[0]!], sets[1]!, torqueChoice(stop))
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
