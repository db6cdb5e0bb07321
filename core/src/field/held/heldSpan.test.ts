import { ALONE, heldSpan } from './heldSpan'
import type { Bin } from '../readings/rowBins'

/** Bins of one row whose passes agree to half a percent; levels in % off lambda 1. */
const row = (levels: readonly number[]): Bin[] =>
  levels.map((level) => ({ level: level / 100, error: 0.005, apart: 0.0004, free: 2 }))
const OUTSIDE = [-6, -5.6, -5.2, -5, -4.8, -4.6]
const swings = [0.9, 2.4, -0.5, -2.5, -0.3, 2, 0.2, -2.1, -0.5, 2.3, -0.4]

describe('a held span', () => {
  it('is found where three passes meet the swing of a loop at the same point', () => {
    const span = heldSpan(row([...swings, ...OUTSIDE]), 0, 10, ALONE)
    expect(span!.from).toBeLessThanOrEqual(2)
    expect(span!.to).toBe(10)
  })
  it('is none where the mixture passes lambda 1 once, however far', () => {
    const slope = swings.map((_, k) => 2.5 - k / 2)
    expect(heldSpan(row([...slope, ...OUTSIDE.map((_, k) => -3 - k / 2)]), 0, 10, ALONE)).toBeNull()
  })
  it('is none where it swings wider than a loop does', () => {
    expect(heldSpan(row([...swings.map((one) => 3 * one), ...OUTSIDE]), 0, 10, ALONE)).toBeNull()
  })
})
