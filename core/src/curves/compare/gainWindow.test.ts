import type { Comparison } from './compare'
import { gainWindow } from './gainWindow'
import { rulerRpm } from '../lay/ruler'

const rpm = rulerRpm({ first: 3000, step: 100, count: 61 })
/** Real where the difference is 2 and more. */
const of = (difference: (at: number) => number | null): Comparison =>
  ({
    rpm,
    first: rpm.map(() => 40),
    difference: rpm.map(difference),
    real: rpm.map((at) => Math.abs(difference(at) ?? 0) >= 2),
    low: rpm.map(() => 0),
    high: rpm.map(() => 1),
  }) as unknown as Comparison
const spanOf = (comparison: Comparison): [number, number] | null => {
  const window = gainWindow(comparison)
  return window && [rpm[window.bins[0]!]!, rpm[window.bins.at(-1)!]!]
}
/** From 5,000 rpm up, but for a gap. */
const gapped = (inGap: number | null): Comparison =>
  of((at) => (at < 5000 ? 0 : at > 5500 && at < 6500 ? inGap : at <= 8000 ? 2 : 0))

describe('where the beginning of the largest gain is sought', () => {
  it('goes on over a gap in which the difference stays, only less surely', () => {
    expect(spanOf(gapped(1.4))).toEqual([3000, 8000])
    // Half of it is still one gain, whose top has passed there.
    expect(spanOf(gapped(1))).toEqual([3000, 5500])
  })
  it('begins anew after a gap in which it is gone, or nothing was measured', () => {
    expect(spanOf(gapped(0.9))).toEqual([5600, 8000])
    expect(spanOf(gapped(-1.5))).toEqual([5600, 8000])
    expect(spanOf(gapped(null))).toEqual([6500, 8000])
  })
  it('ends where the gain has fallen from its top, and begins with what was less before it', () => {
    const hump = of((at) => (at < 4000 ? 0 : at < 4500 ? -2 : at < 6000 ? 0 : at < 7000 ? 4 : 2.5))
    expect(spanOf(hump)).toEqual([4000, 6900])
    expect(gainWindow(hump)!.lessBefore).toBe(true)
    expect(gainWindow(of(() => 3))!.isFromStart).toBe(true)
    expect(gainWindow(of(() => -3))).toBeNull()
  })
})
