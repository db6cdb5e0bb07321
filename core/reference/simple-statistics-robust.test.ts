/**
 * Source: simple-statistics (npm), a general statistics library: median absolute deviation, quantiles, linear regression.
 * The histogram median is exact to its bin, 1/8192 of eight medians: tolerance 0.2 %.
 */
import { medianAbsoluteDeviation, median as theirMedian, quantile } from 'simple-statistics'
import { MAD_TO_SIGMA, medianAbsolute } from '../src/numbers/medianAbsolute'
import { median } from '../src/numbers/median'
import { normal, random } from '../trials/knownTruthLog'

it.each([1, 2, 3])('median absolute value and deviation, seed %i', (seed) => {
  const next = random(seed)
  const values = Array.from({ length: 5001 }, () => 0.01 * normal(next))
  const sizes = values.map(Math.abs)
  expect(medianAbsolute(Float32Array.from(values)) / theirMedian(sizes)).toBeCloseTo(1, 2)
  expect(Math.abs(medianAbsolute(Float32Array.from(values)) / quantile(sizes, 0.5) - 1)).toBeLessThan(0.002)
  // About a median of nearly zero the two agree; 1.4826 makes it the standard deviation of normal noise.
  expect(
    Math.abs(
      (MAD_TO_SIGMA * medianAbsolute(Float32Array.from(values))) / (1.4826 * medianAbsoluteDeviation(values)) - 1,
    ),
  ).toBeLessThan(0.02)
  expect(MAD_TO_SIGMA * medianAbsoluteDeviation(values)).toBeCloseTo(0.01, 3)
})

it('passes over what is no number, and takes large values for what they are', () => {
  expect(medianAbsolute(Float32Array.from([NaN, -0.1, 0.2, 0.3, NaN]))).toBeCloseTo(0.2, 3)
  expect(medianAbsolute(Float32Array.from([0.1, 9, 9, 9]))).toBeGreaterThanOrEqual(0.5)
  expect(medianAbsolute(new Float32Array(0))).toBe(0)
})

it.each([[[]], [[3]], [[3, 1]], [[5, 1, 9]], [[2, 2, 8, 4]]])('median of %j', (values) => {
  if (values.length) expect(median(values)).toBe(theirMedian(values))
  else expect(median(values)).toBeNaN()
})
