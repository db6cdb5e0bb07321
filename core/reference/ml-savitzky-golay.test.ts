/** Savitzky-Golay smoothing and slope against ml-savitzky-golay, a general library, away from the ends. */
import { savitzkyGolay } from '../src/numbers/savitzkyGolay'

// The library is an ES module of its own; its CommonJS build is taken here.
// eslint-disable-next-line @typescript-eslint/no-require-imports
const loaded = require('ml-savitzky-golay') as { savitzkyGolay?: Reference; default?: Reference }
type Reference = (values: number[], step: number, options: object) => number[]
const reference = (loaded.savitzkyGolay ?? loaded.default)!

const values = Array.from({ length: 60 }, (_, k) => Math.sin(k / 7) + 0.1 * Math.cos(3 * k))

it.each([
  [5, 2, 0],
  [11, 2, 0],
  [11, 3, 1],
  [21, 2, 1],
] as const)('window %i, degree %i, derivative %i', (window, degree, derivative) => {
  const mine = savitzkyGolay(values, window, degree, derivative, 0.02)
  const theirs = reference(values, 0.02, {
    windowSize: window,
    polynomial: degree,
    derivative,
    pad: 'none',
    padValue: 0,
  })
  const shift = theirs.length === values.length ? 0 : (window - 1) / 2
  for (let k = window; k < values.length - window; k++) expect(mine[k]).toBeCloseTo(theirs[k - shift]!, 8)
})
it('a polynomial of its own degree comes back unchanged, to the very ends', () => {
  const line = Array.from({ length: 20 }, (_, k) => 3 + 2 * k - 0.5 * k * k)
  savitzkyGolay(line, 7, 2).forEach((value, k) => expect(value).toBeCloseTo(line[k]!, 8))
  savitzkyGolay(line, 7, 2, 1).forEach((value, k) => expect(value).toBeCloseTo(2 - k, 8))
})
