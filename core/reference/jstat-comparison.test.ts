/**
 * Student's t and Welch's comparison against jStat, a general statistics library; false discovery against the worked
 * example of Benjamini and Hochberg, J. R. Statist. Soc. B 57 (1995), table of 15 p-values (from memory).
 */
import { realAmong } from '../src/numbers/falseDiscovery'
import { logGamma } from '../src/numbers/logGamma'
import { NINETY } from '../src/numbers/ninety'
import { studentFactor, studentTail } from '../src/numbers/studentT'
import { welch } from '../src/numbers/welch'

// jStat ships without types.
// eslint-disable-next-line @typescript-eslint/no-require-imports
const { jStat } = require('jstat') as {
  jStat: {
    normal: { inv(p: number, mean: number, deviation: number): number }
    studentt: { cdf(t: number, df: number): number; inv(p: number, df: number): number }
    gammaln(x: number): number
    mean(values: number[]): number
    variance(values: number[], sample: boolean): number
  }
}

it.each([1, 2, 2.7, 4, 9.3, 40])("Student's t with %d degrees of freedom", (df) => {
  for (const t of [0.2, 1, 2.4, 6]) expect(studentTail(t, df)).toBeCloseTo(2 * (1 - jStat.studentt.cdf(t, df)), 7)
  for (const confidence of [0.1, 0.5, 0.9, 0.99, 0.999])
    expect(studentFactor(confidence, df) / jStat.studentt.inv((1 + confidence) / 2, df)).toBeCloseTo(1, 5)
})
it('the 90 % interval of a normal distribution', () => {
  expect(NINETY).toBeCloseTo(jStat.normal.inv(0.95, 0, 1), 3)
})
it.each([1e6, 1e9, 1e14, Infinity])('with %d degrees of freedom it is the normal distribution', (df) => {
  expect(studentFactor(0.9, df)).toBeCloseTo(jStat.normal.inv(0.95, 0, 1), 5)
  expect(studentTail(1.96, df)).toBeCloseTo(0.05, 4)
})
it.each([0.3, 1, 3.3, 20, 700])('ln of the gamma function at %d', (x) => {
  expect(logGamma(x)).toBeCloseTo(jStat.gammaln(x), 9)
})
it('Welch: difference, degrees of freedom, interval and tail', () => {
  const [a, b] = [
    [41.2, 40.7, 41.5],
    [43.9, 43.1, 44.6, 43.4],
  ] as const
  const [u, v] = [jStat.variance([...a], true) / a.length, jStat.variance([...b], true) / b.length]
  const df = (u + v) ** 2 / (u ** 2 / (a.length - 1) + v ** 2 / (b.length - 1))
  const t = (jStat.mean([...b]) - jStat.mean([...a])) / Math.sqrt(u + v)
  const found = welch(a, b, 0.9)
  expect(found.df).toBeCloseTo(df, 9)
  expect(found.p).toBeCloseTo(2 * (1 - jStat.studentt.cdf(t, df)), 6)
  expect(found.high! - found.difference).toBeCloseTo(jStat.studentt.inv(0.95, df) * Math.sqrt(u + v), 4)
})
it('Benjamini and Hochberg: four of fifteen are called real at 5 %', () => {
  const p = [
    0.0001, 0.0004, 0.0019, 0.0095, 0.0201, 0.0278, 0.0298, 0.0344, 0.0459, 0.324, 0.4262, 0.5719, 0.6528, 0.759, 1,
  ]
  expect(realAmong(p, 0.05).filter(Boolean)).toHaveLength(4)
  expect(realAmong([null, ...p].reverse(), 0.05).filter(Boolean)).toHaveLength(4)
})
