/** Values in common use among tuners: common practice, no published source. */
import { fuelFactor, percentFromFactor } from '../src/fuel/mixture'
import { applyFactor } from '../src/change/applyFactor'
import { fitIdlePeak } from '../src/jetting/idle'
import { CIRCUIT_TARGETS, targetAt, TIP_IN } from '../src/jetting/targets'

it('15.9 measured at a 13.0 target is +22 %', () => {
  expect(Math.round(percentFromFactor(fuelFactor(15.9, 13.0)))).toBe(22)
})
it('lambda 1.00 at a 0.90 target is about +11 %', () => {
  expect(Math.round(percentFromFactor(fuelFactor(1.0, 0.9)))).toBe(11)
})
it('97 with +22 % is 118', () => {
  expect(Math.round(applyFactor(97, 1.22, { kind: 'fuel base' }))).toBe(118)
})
it('on modules whose table and global trim add, 4 % and 4 % give 8 %', () => {
  expect(applyFactor(4, 1.04, { kind: 'fuel trim', composition: 'add' })).toBeCloseTo(8, 10)
})
it('a carburettor wants 12.0 to 12.5 wide open, richer than an injected engine, and 11.5 to 11.7 at tip-in', () => {
  const full = 14.7 * targetAt(CIRCUIT_TARGETS, 1).lambda
  expect(full).toBeGreaterThanOrEqual(12)
  expect(full).toBeLessThanOrEqual(12.5)
  // One cylinder may be a point leaner than the mean and is still within the injected band.
  expect(full + 1).toBeLessThanOrEqual(13.5)
  expect(14.7 * TIP_IN.wanted).toBeGreaterThanOrEqual(11.5)
  expect(14.7 * TIP_IN.wanted).toBeLessThanOrEqual(11.7)
})
it('idle: from the highest speed a quarter turn', () => {
  const readings = [1, 1.25, 1.5, 1.75, 2].map((turns) => ({ turns, value: 1200 - 300 * (turns - 1.5) ** 2 }))
  expect(fitIdlePeak(readings, 'richer', true)).toMatchObject({
    turns: expect.closeTo(1.5, 9) as number,
    set: expect.closeTo(1.75, 9) as number,
  })
})
