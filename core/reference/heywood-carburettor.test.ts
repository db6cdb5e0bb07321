/**
 * Source: J. B. Heywood, Internal Combustion Engine Fundamentals, 1988, chapter 7 (carburettor: flow through orifice and
 * venturi; mixture goes as the root of air density). Formulae from memory; figures worked by hand here.
 */
import { standardAtmosphere } from '../src/air/standardAtmosphere'
import { jetCorrection } from '../src/jetting/model/density'
import { annulusArea, circleArea, inSeries, orificeFlow } from '../src/jetting/model/orifice'

describe('flow through a jet', () => {
  it('1.15 mm, Cd 0.72, 745 kg/m³, 2 kPa: A = 1.03869 mm², m = 0.72 A sqrt(2 x 745 x 2000) = 1.2910 g/s', () => {
    expect(circleArea(1.15)).toBeCloseTo(1.03869, 5)
    expect(1000 * orificeFlow(0.72, circleArea(1.15) * 1e-6, 745, 2000)).toBeCloseTo(1.291, 3)
  })
  it('four times the drop is twice the flow; none is none', () => {
    expect(orificeFlow(0.7, 1e-6, 745, 4000) / orificeFlow(0.7, 1e-6, 745, 1000)).toBeCloseTo(2, 12)
    expect(orificeFlow(0.7, 1e-6, 745, -5)).toBe(0)
  })
  it('two in series pass what one does whose pressure drops add: drops go as m² / A²', () => {
    const [first, second, mass, density] = [1.1, 0.8, 0.001, 745]
    const dropOf = (area: number): number => (mass / (area * 1e-6)) ** 2 / (2 * density)
    const both = inSeries(first, second)
    expect(dropOf(both)).toBeCloseTo(dropOf(first) + dropOf(second), 6)
    expect(inSeries(1, 1)).toBeCloseTo(Math.SQRT1_2, 12)
    expect(inSeries(1, 0)).toBe(0)
  })
  it('a ring is the difference of two circles: jet 2.6, needle 2.5 mm leave 0.40055 mm²', () => {
    expect(annulusArea(2.6, 2.5)).toBeCloseTo(0.40055, 4)
    expect(annulusArea(2.5, 2.6)).toBe(0)
  })
})

describe('air density', () => {
  it('at 1500 and 3000 m of the standard atmosphere (ISO 2533) area goes as the root, diameter as the fourth root', () => {
    // Density ratios of the standard: 0.8637 at 1500 m and 0.7423 at 3000 m.
    for (const [height, ratio] of [
      [1500, 0.8637],
      [3000, 0.7423],
    ] as const) {
      const there = standardAtmosphere(height)
      const sea = standardAtmosphere(0)
      const correction = jetCorrection(
        { temperatureC: sea.temperatureC, pressureKpa: sea.pressureKpa, humidityPct: 0 },
        { temperatureC: there.temperatureC, pressureKpa: there.pressureKpa, humidityPct: 0 },
        'diameter',
      )
      expect(correction.density).toBeCloseTo(ratio, 3)
      expect(correction.area).toBeCloseTo(Math.sqrt(ratio), 3)
      expect(correction.number).toBeCloseTo(ratio ** 0.25, 3)
    }
  })
})
