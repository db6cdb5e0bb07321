import { differenceIn, figureIn, unitsFrom, USUAL_UNITS } from './units'

describe('units of a person', () => {
  it('are the usual ones where nothing, or nothing that is a unit, was asked for', () => {
    expect(unitsFrom({})).toEqual(USUAL_UNITS)
    expect(unitsFrom({ power: 'hp', torque: 'toString', mixture: 'afr' })).toEqual({ ...USUAL_UNITS, power: 'hp' })
  })
  it('reach figures and differences alike', () => {
    const units = unitsFrom({ power: 'PS', mixture: 'AFR' })
    expect(figureIn('power', 10, units)).toBe('13.6')
    expect(figureIn('mixture', 0.9, units)).toBe('13.23')
    expect(differenceIn('mixture', -0.01, units)).toBe('−0.15')
    expect(differenceIn('torque', 2, units)).toBe('+2.0')
  })
})
