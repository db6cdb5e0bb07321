/** ISO 2533 Standard Atmosphere, table values by geopotential height (from memory, four figures). */
import { densityAltitude, standardAtmosphere } from '../src/air/standardAtmosphere'

it.each([
  [0, 15, 101.325, 1.225],
  [1000, 8.5, 89.87, 1.1116],
  [2000, 2, 79.5, 1.0065],
  [3000, -4.5, 70.11, 0.9091],
  [5000, -17.5, 54.02, 0.7361],
])('at %i m', (height, temperatureC, pressureKpa, density) => {
  const air = standardAtmosphere(height)
  expect(air.temperatureC).toBeCloseTo(temperatureC, 6)
  expect(air.pressureKpa).toBeCloseTo(pressureKpa, 1)
  expect(air.density).toBeCloseTo(density, 3)
  expect(densityAltitude(air.density)).toBeCloseTo(height, 4)
})
it('refuses heights outside the troposphere and air that is none', () => {
  expect(() => standardAtmosphere(12000)).toThrow(RangeError)
  expect(() => densityAltitude(0)).toThrow(RangeError)
})
