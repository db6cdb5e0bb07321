import { normal, random } from '../../../trials/knownTruthLog'
import { readingStep, stepDoubt } from './readingStep'

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

describe('what writing in steps shifts a mean by', () => {
  /** Root mean square over all offsets of the mean of a normal reading that is rounded to whole steps, by sums. */
  function shiftOf(scatter: number): number {
    let square = 0
    for (let k = 0; k < 50; k++) {
      const offset = (k + 0.5) / 50
      let [mean, mass] = [0, 0]
      for (let x = offset - 6 * scatter; x <= offset + 6 * scatter; x += scatter / 4000) {
        const density = Math.exp(-(((x - offset) / scatter) ** 2) / 2)
        mean += density * Math.round(x)
        mass += density
      }
      square += (mean / mass - offset) ** 2 / 50
    }
    return Math.sqrt(square)
  }
  it.each([0.25, 0.35, 0.45])('is what rounding does to readings that scatter by %f of a step', (own) => {
    const step = 0.01
    const written = step * Math.hypot(own, 1 / Math.sqrt(12))
    expect(stepDoubt(step, written) / (step * shiftOf(own))).toBeCloseTo(1, 1)
  })
  it('is nothing without steps, or where readings scatter over many', () => {
    expect(stepDoubt(0, 0.01)).toBe(0)
    expect(stepDoubt(0.001, 0.01)).toBeLessThan(1e-9)
    expect(stepDoubt(0.01, 0)).toBeCloseTo(0.01 / Math.PI / Math.SQRT2, 9)
  })
})
