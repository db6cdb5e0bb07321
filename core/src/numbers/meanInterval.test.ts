import { meanInterval } from './meanInterval'

it('is the mean plus and minus t times its error, by hand', () => {
  // t of 2 degrees of freedom at 90 % is 2.920; the error of 1, 2, 3 is 1 / sqrt(3).
  const told = meanInterval([1, 2, 3])!
  expect(told.mean).toBe(2)
  expect(told.high! - told.mean).toBeCloseTo(2.92 / Math.sqrt(3), 3)
  expect(told.mean - told.low!).toBeCloseTo(told.high! - told.mean, 12)
})

it('one value has no interval, none no mean', () => {
  expect(meanInterval([4])).toEqual({ mean: 4, low: null, high: null })
  expect(meanInterval([])).toBeNull()
})
