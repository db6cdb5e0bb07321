import { blendAfr, ethanolBlendAfr, FUELS, fuelById } from './fuels'
import { factorFromPercent, fuelNeeded, lambdaShown, percentFromFactor } from './mixture'
import { stoichiometricAfr } from './stoichiometry'

describe('blends', () => {
  it('lie between their parts and move one way with ethanol', () => {
    const ratios = [0, 5, 10, 50, 85, 100].map(ethanolBlendAfr)
    for (let i = 1; i < ratios.length; i++) expect(ratios[i]).toBeLessThan(ratios[i - 1]!)
    expect(ratios[0]).toBeCloseTo(fuelById('petrol')!.stoichAfr, 12)
    expect(ratios[5]).toBeCloseTo(stoichiometricAfr({ c: 2, h: 6, o: 1 }), 12)
  })
  it('refuse what cannot be a blend', () => {
    expect(() => blendAfr([])).toThrow(RangeError)
    expect(() => blendAfr([{ stoichAfr: 14, massShare: -1 }])).toThrow(RangeError)
    expect(() => ethanolBlendAfr(101)).toThrow(RangeError)
    expect(() => stoichiometricAfr({ c: 1, h: 0, o: 2 })).toThrow(RangeError)
  })
  it('have ids of their own', () => {
    expect(new Set(FUELS.map((fuel) => fuel.id)).size).toBe(FUELS.length)
    expect(fuelById('nothing')).toBeUndefined()
  })
})

describe('mixture', () => {
  it('trims of the closed loop multiply', () => {
    expect(fuelNeeded(1, 1, (1 + 0.05) * (1 - 0.02))).toBeCloseTo(1.05 * 0.98, 12)
  })
  it('what cannot be told is NaN, never a factor', () => {
    expect(fuelNeeded(1, NaN, 1)).toBeNaN()
  })
  it('percent and factor undo each other', () => {
    expect(factorFromPercent(percentFromFactor(1.17))).toBeCloseTo(1.17, 12)
  })
})

describe('what a gauge shows', () => {
  it('is lambda, or AFR on the scale that it is made for', () => {
    expect([lambdaShown(13.23, 14.7), lambdaShown(13.5, 15), lambdaShown(0.9, 15)]).toEqual([0.9, 0.9, 0.9])
  })
})
