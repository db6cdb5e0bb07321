import { mostTelling } from './mostTelling'

test('of some columns the one with the most readings is taken, the first of equals', () => {
  const [full, half, none] = [Float32Array.of(1, 1, 1), Float32Array.of(1, NaN, 1), Float32Array.of(NaN, NaN, 0)]
  expect(mostTelling([half, full])).toBe(full)
  expect(mostTelling([full, Float32Array.of(1, 1, 1)])).toBe(full)
  expect(mostTelling([none, half])).toBe(half)
  expect(mostTelling([none])).toBeUndefined()
  expect(mostTelling([])).toBeUndefined()
})
