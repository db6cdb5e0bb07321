import { knownCase, knownRuns } from '../../trials/knownTruthLog'
import { joined } from '../../trials/joined'
import { seeds } from '../../trials/seeds'
import { SHED, shedRides } from '../../trials/shedRides'
import { bySweep, sweepName, sweepOf, sweepsAt } from './bySweep'

const lengths = (parts: readonly { time: Float32Array }[]): number =>
  parts.reduce((sum, one) => sum + one.time.length, 0)

describe('sweeps inside a log', () => {
  it.each(seeds(10, 3).flatMap((seed) => [8, 21, 57].map((hz) => [seed, hz] as const)))(
    'are found where it goes on from ride to ride, seed %i at %i Hz',
    (seed, hz) => {
      const rides = shedRides({ ...SHED, seed, hz }, [9, 31, 100], 3)
      const log = joined(rides)
      const parts = bySweep(log)
      expect(parts).toHaveLength(9)
      expect(lengths(parts)).toBe(log.time.length)
      expect(sweepsAt(log, 31)).toEqual(parts.slice(3, 6))
      expect(sweepsAt(log, null)).toEqual(parts)
      expect(sweepsAt(log, 60)).toEqual([])
    },
  )
  it.each(seeds(10, 3))(
    'are found where each file begins at its stop, and where a brake pulls some down, seed %i',
    (seed) => {
      const up = joined(knownRuns(knownCase(seed, { stops: [40, 100] })))
      expect(bySweep(up)).toHaveLength(6)
      const c = knownCase(seed, { stops: [60], sweep: { from: 1900, to: 9300, seconds: 11, downEvery: 2 } })
      expect(bySweep(joined(knownRuns(c)))).toHaveLength(3)
    },
  )
  it('are found by speed alone where no throttle was logged', () => {
    const { throttle: _, ...blind } = joined(shedRides(SHED, [55], 4))
    expect(bySweep(blind)).toHaveLength(4)
  })
  it('are not made of one ride, of idle, of a hold, nor of readings by hand', () => {
    for (const ride of [...shedRides(SHED, [31, 100], 2), ...knownRuns(knownCase(2, { stops: [5, 60] }))])
      expect(bySweep(ride)).toEqual([ride])
    const flat = (value: number, n = 900): Float32Array =>
      new Float32Array(n).map((_, i) => value * (1 + 0.004 * Math.sin(i)))
    const time = new Float32Array(900).map((_, i) => i / 30)
    const hold = { id: 'hold', time, rpm: flat(4000), throttle: flat(30), lambda: [flat(0.9)] }
    expect(bySweep(hold)).toEqual([hold])
    expect(bySweep({ ...hold, id: 'idle', rpm: flat(1250), throttle: flat(1) })).toHaveLength(1)
    const byHand = { ...joined(shedRides(SHED, [55], 3)), handRange: flat(0.01) }
    expect(bySweep(byHand)).toEqual([byHand])
    expect(bySweep({ id: 'empty', time: flat(0, 0), rpm: flat(0, 0), lambda: [] })).toHaveLength(1)
  })
  it('are not made of town traffic', () => {
    // Twelve gears up and down, the hand never still.
    const time = new Float32Array(6000).map((_, i) => i / 25)
    const rpm = time.map((t) => 3200 + 1500 * Math.sin(t / 2.1) + 500 * Math.sin(t * 0.9))
    const throttle = time.map((t) => 18 + 17 * Math.sin(t / 1.3) * Math.sin(t / 5))
    expect(bySweep({ id: 'town', time, rpm, throttle, lambda: [rpm.map(() => 0.95)] })).toHaveLength(1)
  })
  it('are called by their run', () => {
    expect(sweepOf('a1#3')).toEqual({ run: 'a1', sweep: 3 })
    expect(sweepOf('a1')).toEqual({ run: 'a1', sweep: null })
    expect(sweepName('Evening', 'a1#3')).toBe('Evening, sweep 3')
  })
})
