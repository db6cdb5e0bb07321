/**
 * Uniformly accelerated motion, s = a t² / 2 and v = a t (Galilei, Discorsi, 1638, third day); constant power over a fixed mass,
 * v = sqrt(2 P t / m) and s = 2/3 sqrt(2 P / m) t^(3/2), by the energy balance. Worked out by hand here, no code of ours.
 */
import { STRIP_MARKS } from '../src/strip/marks'
import { comparePasses } from '../src/strip/comparePasses'
import { stripSplits } from '../src/strip/stripSplits'

const rules = { rolloutM: 0.3048, trapM: 20.1168, endM: 402.336 }
const rows = Array.from({ length: 400 }, (_, k) => k / 10)

describe('a strip by hand', () => {
  it('at 4 m/s² from standing: every time and every speed', () => {
    const a = 4
    const speed = rows.map((t) => Math.max(0, a * (t - 2.03)))
    const { splits } = stripSplits(rows, speed, 21, 399, rules)
    const at = (s: number): number => Math.sqrt((2 * s) / a)
    expect(splits.map((one) => one.distanceM)).toEqual([...STRIP_MARKS])
    for (const { distanceM, timeS, speedKmh } of splits) {
      // A clutch is reckoned with, which this motion has not: a hundredth.
      expect(Math.abs(timeS - (at(distanceM) - at(0.3048)))).toBeLessThan(0.012)
      if (distanceM > 20.2)
        expect(speedKmh!).toBeCloseTo((3.6 * 20.1168) / (at(distanceM) - at(distanceM - 20.1168)), 1)
      else expect(speedKmh).toBeNull()
    }
    // Some 0.4 s of rollout, as the trade counts on.
    expect(at(0.3048)).toBeCloseTo(0.39, 2)
  })

  it('a tenth more power over the quarter is told as a tenth, and all of the time with it', () => {
    const passOf = (power: number) => {
      const k = (2 / 3) * Math.sqrt((2 * power) / 250)
      const at = (s: number): number => (s / k) ** (2 / 3)
      const splits = [100.584, 201.168, 402.336].map((distanceM) => ({
        distanceM,
        timeS: at(distanceM) - at(0.3048),
        speedKmh: (3.6 * 20.1168) / (at(distanceM) - at(distanceM - 20.1168)),
      }))
      return { splits, lifted: false, liftedAtM: null, density: 1.2 }
    }
    const { powerPct, tractionS, atLikeAir, verdict } = comparePasses(
      [passOf(40_000), passOf(40_080), passOf(39_920)],
      [passOf(44_000), passOf(44_080), passOf(43_920)],
    )
    expect(powerPct!.difference).toBeCloseTo(10, 1)
    expect(powerPct!.low!).toBeGreaterThan(9)
    expect(Math.abs(tractionS!.difference)).toBeLessThan(0.01)
    expect([atLikeAir, verdict]).toEqual([true, 'power'])
  })
})
