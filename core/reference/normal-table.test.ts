/**
 * Source: Abramowitz and Stegun, Handbook of Mathematical Functions, 1964, table 26.1: normal probability function P(x). Values from
 * memory, to the digits given; density over integral worked out by hand from them.
 */
import { densityOverIntegral, normalIntegral } from '../src/numbers/normalTail'

it.each([
  [0, 0.5],
  [1, 0.84134475],
  [2, 0.97724987],
  [3, 0.9986501],
])('P(%d) = %d, and below nought what is left of one', (x, p) => {
  expect(normalIntegral(x)).toBeCloseTo(p, 6)
  expect(normalIntegral(-x)).toBeCloseTo(1 - p, 6)
})
it.each([
  // Z(x) / P(-x): 0.39894228 / 0.5, 0.24197072 / 0.15865525, 0.00443185 / 0.0013499, 1.4867195e-6 / 2.8665157e-7.
  [0, 0.79788456],
  [-1, 1.5251353],
  [-3, 3.2831],
  [-5, 5.1865],
])('density over integral at %d is %d, within half a percent', (x, ratio) => {
  expect(densityOverIntegral(x) / ratio).toBeGreaterThan(0.995)
  expect(densityOverIntegral(x) / ratio).toBeLessThan(1.005)
})
it('goes on smoothly into the far tail', () => {
  for (let x = -12; x < 0; x += 0.25) expect(densityOverIntegral(x)).toBeGreaterThan(densityOverIntegral(x + 0.25))
})
