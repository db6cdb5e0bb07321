/** Values in common use among tuners: common practice, no published source. */
import { fuelFactor, percentFromFactor } from '../src/fuel/mixture'
import { applyFactor } from '../src/change/applyFactor'

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
