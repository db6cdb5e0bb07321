import { DEFAULT_BODY, EMPTY_BOX, fittedFault, type Body, type Box, type Fitted } from '../carburettor'
import { READ_AT, SHED_BODY, SHED_BOX } from '../../simulator/knownCarburettor'
import { circuitShares, passages, rodsRiseAt, slideArea, strength } from './model'

const BASE: Fitted = { main: 115, pilot: 40, needle: 'T1', clip: 3, screw: 1.5, cutaway: 2.5 }
const ruleOf = (fitted: Fitted, opening: number, body: Body = SHED_BODY, box: Box = SHED_BOX): number =>
  strength(passages(body, box, fitted, opening))

describe('the model', () => {
  it('a bore half open has half its area, wide open all of it', () => {
    expect(slideArea(26, 0.5)).toBeCloseTo((Math.PI * 13 * 13) / 2, 6)
    expect(slideArea(26, 1)).toBeCloseTo(Math.PI * 13 * 13, 6)
  })
  it('shares of the circuits add up to one and pass from pilot to needle to main', () => {
    const at = (opening: number) => circuitShares(passages(SHED_BODY, SHED_BOX, BASE, opening))
    for (const opening of READ_AT) {
      const { pilot, needle, main } = at(opening)
      expect(pilot + needle + main).toBeCloseTo(1, 12)
    }
    expect(at(0.03).pilot).toBeGreaterThan(0.5)
    expect(at(0.3).needle).toBeGreaterThan(0.6)
    expect(at(1).main).toBeGreaterThan(0.8)
  })
  it('a share is what the mixture moves by, told by a small change of the passage', () => {
    const p = passages(SHED_BODY, SHED_BOX, BASE, 0.4)
    const shares = circuitShares(p)
    for (const circuit of ['pilot', 'needle', 'main'] as const) {
      const moved = strength({ ...p, [circuit]: p[circuit] * 1.0001 })
      expect(Math.log(moved / strength(p)) / Math.log(1.0001)).toBeCloseTo(shares[circuit], 4)
    }
  })
  it.each([
    ['a larger main, wide open', { main: 120 }, 1, 1],
    ['a higher needle, half open', { clip: 4 }, 0.4, 1],
    ['a thicker needle', { needle: 'T2' }, 0.4, -1],
    ['a larger pilot, nearly shut', { pilot: 42.5 }, 0.06, 1],
    ['an air screw turned out', { screw: 2.5 }, 0.06, -1],
    ['a higher cutaway', { cutaway: 3 }, 0.15, -1],
  ])('%s bears on the mixture', (_what, over, opening, sign) => {
    expect(Math.sign(ruleOf({ ...BASE, ...over }, opening) - ruleOf(BASE, opening))).toBe(sign)
  })
  it('the main jet hardly bears nearly shut, nor the pilot wide open', () => {
    expect(ruleOf({ ...BASE, main: 130 }, 0.06) / ruleOf(BASE, 0.06)).toBeLessThan(1.02)
    expect(ruleOf({ ...BASE, pilot: 50 }, 1) / ruleOf(BASE, 1)).toBeLessThan(1.01)
  })
  it('a piston under a softer spring is lifted further: richer needle at the same flow', () => {
    const body: Body = { ...SHED_BODY, kind: 'constant-vacuum' }
    const { cutaway: _, ...rest } = BASE
    const softer = ruleOf({ ...rest, spring: 0.85 }, 0.3, body) / ruleOf({ ...rest, spring: 1 }, 0.3, body)
    expect(Math.abs(Math.log(softer))).toBeGreaterThan(0.003)
    expect(fittedFault(body, SHED_BOX, { ...rest, spring: 1 })).toBeNull()
  })
  it('metering rods rise when vacuum falls below the spring, and the power step is richer', () => {
    const body: Body = { ...DEFAULT_BODY, kind: 'metering rods', bore: 34 }
    const box: Box = { ...EMPTY_BOX, rods: [{ name: 'R', cruise: 1.7, power: 1.2 }] }
    const at = (kPa: number, spring = 20): number =>
      ruleOf({ main: 240, rod: 'R', spring, screw: 1.5 }, kPa / 100, body, box)
    // Manifold pressure: 60 kPa is 41 kPa of vacuum, 95 kPa is 6.
    expect(at(95) / at(60)).toBeGreaterThan(1.15)
    expect(at(75, 15)).toBeLessThan(at(75, 35))
    expect(at(95, 15) / at(95, 35)).toBeGreaterThan(0.97)
    // At the very pressure the rods are half way up.
    expect(rodsRiseAt(20)).toBeCloseTo(0.813, 9)
    expect(at(100 * rodsRiseAt(20))).toBeGreaterThan(at(60))
  })
  it('of two screws the low one bears at small openings, the high one wide open', () => {
    const body: Body = { ...DEFAULT_BODY, kind: 'two screws', bore: 16 }
    const rule = (high: number, low: number, opening: number): number => ruleOf({ high, low }, opening, body, EMPTY_BOX)
    expect(rule(1, 1.25, 0.1) / rule(1, 1, 0.1)).toBeGreaterThan(rule(1.25, 1, 0.1) / rule(1, 1, 0.1))
    expect(rule(1.25, 1, 1) / rule(1, 1, 1)).toBeGreaterThan(rule(1, 1.25, 1) / rule(1, 1, 1))
  })
})
