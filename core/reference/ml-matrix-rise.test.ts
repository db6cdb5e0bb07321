/**
 * The rise of a gain against generalized least squares with a dense covariance, by ml-matrix 6, over every beginning and end.
 */
import { inverse, Matrix } from 'ml-matrix'
import { alongBins, fitRise, riseLine } from '../src/curves/lay/rise'
import { normal, random } from '../trials/knownTruthLog'

const BINS = 13

/** Errors of which neighbours hang together by `along`. */
function errors(next: () => number, along: number, count = BINS): number[] {
  const out: number[] = []
  for (let k = 0; k < count; k++)
    out.push(k ? along * out[k - 1]! + Math.sqrt(1 - along ** 2) * normal(next) : normal(next))
  return out
}

describe.each([0, 0.4, 0.75])('a rise under errors that hang together by %f', (along) => {
  const precision = inverse(
    new Matrix(
      Array.from({ length: BINS }, (_, a) => Array.from({ length: BINS }, (_b, b) => along ** Math.abs(a - b))),
    ),
  )
  const dense = (
    values: readonly number[],
    from: number,
    to: number,
  ): { cost: number; base: number; slope: number } => {
    const x = new Matrix(riseLine({ from, to, base: 0, top: 1 }, BINS).map((one) => [1, one]))
    const y = Matrix.columnVector([...values])
    const normalMatrix = x.transpose().mmul(precision).mmul(x)
    const solved = inverse(normalMatrix).mmul(x.transpose()).mmul(precision).mmul(y)
    const left = Matrix.sub(y, x.mmul(solved))
    const cost = left.transpose().mmul(precision).mmul(left).get(0, 0)
    return { cost, base: solved.get(0, 0), slope: solved.get(1, 0) }
  }
  it.each([1, 2, 3, 4])('is the one of least squares of all, seed %i', (seed) => {
    const noise = errors(random(100 * seed + 7), along)
    const values = riseLine({ from: 4, to: 7, base: 1, top: 4 }, BINS).map((one, k) => one + 0.8 * noise[k]!)
    let least = Infinity
    let best = { from: 0, to: 0, base: 0, top: 0 }
    for (let from = 0; from < BINS - 1; from++)
      for (let to = from + 1; to < BINS; to++) {
        const { cost, base, slope } = dense(values, from, to)
        if (slope > 0 && cost < least) {
          least = cost
          best = { from, to, base, top: base + slope }
        }
      }
    const mine = fitRise(values, along)
    expect([mine.from, mine.to]).toEqual([best.from, best.to])
    expect(mine.base).toBeCloseTo(best.base, 9)
    expect(mine.top).toBeCloseTo(best.top, 9)
  })
})

describe('how errors of neighbouring bins hang together', () => {
  it('is their correlation, whatever level each run has', () => {
    const next = random(5)
    const runs = Array.from({ length: 6 }, (_, r) => errors(next, 0.6, 400).map((one) => one + 10 * r))
    // Six runs of 400 bins tell it to some 0.02.
    expect(alongBins(runs)).toBeGreaterThan(0.54)
    expect(alongBins(runs)).toBeLessThan(0.66)
  })
  it('is held below what would leave base and top untold, is never against, and nothing where no run departs', () => {
    expect(alongBins([Array.from({ length: 50 }, (_, k) => k)])).toBe(0.75)
    expect(alongBins([Array.from({ length: 50 }, (_, k) => (k % 2 ? 1 : -1))])).toBe(0)
    expect(alongBins([[2, 2, 2]])).toBe(0)
    expect(alongBins([])).toBe(0)
  })
})
