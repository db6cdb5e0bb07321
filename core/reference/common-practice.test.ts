/** Values in common use among tuners: common practice, no published source. */
import { fuelNeeded, percentFromFactor } from '../src/fuel/mixture'
import { fuelOfCell } from '../src/change/applyFactor'
import { fitIdlePeak } from '../src/jetting/idle/idle'
import { engineTorque } from '../src/simulator/torque'
import { CIRCUIT_TARGETS, targetAt, judgeTipIn, USUAL_TIP_IN } from '../src/jetting/model/targets'
import type { SparkBin } from '../src/spark/bin'
import { DEFAULT_SPARK, fitAdvance } from '../src/spark/fitAdvance'
import { judgeBin } from '../src/spark/judge'
import { fitMixture } from '../src/spark/mixtureSweep'
import { oneKnob, type RangeUse } from '../src/spark/oneKnob'

it('lambda 1.00 at a 0.90 target is about +11 %', () => {
  expect(Math.round(percentFromFactor(fuelNeeded(1.0, 0.9, 1)))).toBe(11)
})
it('on modules whose table and global trim add, 4 % in the cell and 4 % global act as 8 %', () => {
  const module = { kind: 'fuel trim', composition: 'add', global: 4 } as const
  expect(fuelOfCell(4, module)).toBeCloseTo(1.08, 10)
})
it('a carburettor wants 12.0 to 12.5 wide open, richer than an injected engine', () => {
  const full = 14.7 * targetAt(CIRCUIT_TARGETS, 1).lambda
  expect(full).toBeGreaterThanOrEqual(12)
  expect(full).toBeLessThanOrEqual(12.5)
  // One cylinder may be a point leaner than the mean and is still within the injected band.
  expect(full + 1).toBeLessThanOrEqual(13.5)
})
it('tip-in: lambda about 0.79; 0.82 is getting lean, 0.73 is rich', () => {
  expect(USUAL_TIP_IN.wanted).toBe(0.79)
  expect([0.83, 0.8, 0.72].map((leanest) => judgeTipIn(leanest, USUAL_TIP_IN))).toEqual([
    'lean',
    'as it should be',
    'rich',
  ])
})
it('idle: from the highest speed a quarter turn', () => {
  const readings = [1, 1.25, 1.5, 1.75, 2].map((turns) => ({ turns, value: 1200 - 300 * (turns - 1.5) ** 2 }))
  expect(fitIdlePeak(readings, 'richer', true)).toMatchObject({
    turns: expect.closeTo(1.5, 9) as number,
    set: expect.closeTo(1.75, 9) as number,
  })
})

/**
 * Common practice: a few degrees more than standard gain a little, a few more gain nothing, and the last ones lose, most at
 * the top. The shape is the practice; the figures are ours.
 */
describe('spark: a table of settings against power', () => {
  const SETTINGS = [0, 2, 4, 6, 8]
  /** kW at two engine speeds, two readings each. */
  const MIDDLE = [21.0, 21.3, 21.5, 21.55, 21.45]
  const TOP = [30.4, 30.5, 30.4, 30.1, 29.6]
  const fitOf = (powers: number[]) =>
    fitAdvance(
      powers.flatMap((power, k) =>
        [-0.02, 0.02].map((off) => ({ advance: SETTINGS[k]!, torque: power + off, knock: false })),
      ),
      { ...DEFAULT_SPARK, present: 0, hasKnockChannel: true },
    )
  it('the middle wants a few degrees more, the top hardly any', () => {
    const [middle, top] = [fitOf(MIDDLE), fitOf(TOP)]
    expect(middle.verdict).toBe('best torque')
    expect(middle.best!.advance).toBeGreaterThan(4)
    expect(middle.best!.advance).toBeLessThan(8)
    expect(top.best!.advance).toBeLessThan(3)
    // And nobody is sent to the last setting, which lost.
    expect(middle.recommended!).toBeLessThan(6)
    expect(top.recommended ?? 0).toBeLessThanOrEqual(2)
  })
  it('one knob for both lies between, nearer to where the engine is used', () => {
    const bins = [
      { rpm: 5000, powers: MIDDLE },
      { rpm: 8000, powers: TOP },
    ].map(({ rpm, powers }) => {
      const points = powers.flatMap((torque, k) =>
        [-0.02, 0.02].map((off) => ({
          advance: SETTINGS[k]!,
          torque: torque + off,
          knock: false,
          run: `${k}`,
          at: '2026-03-02T10:00:00.000Z',
        })),
      )
      const bin: SparkBin = {
        stop: 100,
        rpm,
        source: 'sweeps',
        isStatic: true,
        points,
        present: 0,
        presentAt: points[0]!.at,
        hasKnockChannel: true,
        knockFrom: null,
      }
      return judgeBin(bin, [])
    })
    const at = (use: RangeUse): number => oneKnob(bins, use, 2).best!.offset
    const own = bins.map(({ fit }) => fit.best!.advance)
    const even = at({ low: 1, middle: 1, high: 1 })
    expect(even).toBeGreaterThan(own[1]!)
    expect(even).toBeLessThan(own[0]!)
    expect(at({ low: 3, middle: 1, high: 1 })).toBeGreaterThan(even)
    expect(at({ low: 1, middle: 1, high: 3 })).toBeLessThan(even)
  })
})

/** Best torque lies 10 to 20 % rich of stoichiometric, lambda 0.83 to 0.91 (Heywood ch. 15, from memory). */
it('the mixture of best torque on the simulated engine lies where textbooks have it', () => {
  const points = [0.78, 0.84, 0.9, 0.96, 1.02].flatMap((lambda) =>
    [1, 1.001].map((off) => ({ lambda, torque: off * engineTorque(500, lambda, 6000, 437, 14.3), knock: false })),
  )
  const { best } = fitMixture(points)
  expect(best!.lambda).toBeGreaterThan(0.83)
  expect(best!.lambda).toBeLessThan(0.91)
})
