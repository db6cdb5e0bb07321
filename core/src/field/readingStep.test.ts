import { normal, random } from '../../reference/knownTruthLog'
import { readingStep } from './readingStep'

const next = random(7)
/** Readings about a wandering mixture, written in steps. */
const readings = (count: number, step: number): Float32Array =>
  Float32Array.from({ length: count }, (_, i) => {
    const value = 0.92 + 0.05 * Math.sin(i / 90) + 0.01 * normal(next)
    return step ? Math.round(value / step) * step : value
  })

describe('the step in which lambda is written', () => {
  it.each([0.01, 0.02, 0.1 / 14.7, 0.2 / 14.7])('%f is found, in few readings and many', (step) => {
    for (const count of [300, 30_000]) expect(readingStep(readings(count, step)) / step).toBeCloseTo(1, 2)
  })
  it('is next to nothing where figures are fine, and 0 where they are few or one alone', () => {
    expect(readingStep(readings(3000, 0))).toBeLessThan(0.001)
    expect(readingStep(readings(3000, 0.001))).toBeCloseTo(0.001, 5)
    expect(readingStep(readings(100, 0.01))).toBe(0)
    expect(readingStep(new Float32Array(1000).fill(0.93))).toBe(0)
    expect(readingStep(new Float32Array(1000).fill(NaN))).toBe(0)
  })
  it('stays what it is with blanks and a value now and then that lies between', () => {
    const values = readings(3000, 0.01).map((value, i) => (i % 9 === 0 ? NaN : i % 500 === 0 ? value + 0.004 : value))
    expect(readingStep(values)).toBeCloseTo(0.01, 3)
  })
})
