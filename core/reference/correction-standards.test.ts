/**
 * SAE J1349, ISO 1585, DIN 70020 and SAE J607 at hand-worked points. Formulas from memory of the standards; the vapour
 * pressure by Magnus (WMO No. 8), worked with a calculator: at 30 °C and 45 % it is 1.9052 kPa, at 12 °C and 70 % 0.9800 kPa.
 */
import { CORRECTIONS, correctionById } from '../src/air/corrections'
import { vapourPressure } from '../src/air/weather'

const HOT = { temperatureC: 30, pressureKpa: 98.2, humidityPct: 45 }
const COLD = { temperatureC: 12, pressureKpa: 100.9, humidityPct: 70 }

it('vapour pressure at the two points', () => {
  expect(vapourPressure(HOT)).toBeCloseTo(1.90518, 4)
  expect(vapourPressure(COLD)).toBeCloseTo(0.97998, 4)
})
it.each([
  ['sae-j1349', HOT, 1.04359],
  ['sae-j1349', COLD, 0.96365],
  ['iso-1585', HOT, 1.04449],
  ['iso-1585', COLD, 0.96315],
  ['din-70020', HOT, 1.04928],
  ['din-70020', COLD, 0.99042],
  ['sae-j607', HOT, 1.07785],
  ['sae-j607', COLD, 1.00744],
] as const)('%s at a worked point, to four figures', (id, weather, factor) => {
  expect(correctionById(id).factor(weather)).toBeCloseTo(factor, 4)
})
it.each([
  ['sae-j1349', { temperatureC: 25, pressureKpa: 99, humidityPct: 0 }],
  ['iso-1585', { temperatureC: 25, pressureKpa: 99, humidityPct: 0 }],
  ['din-70020', { temperatureC: 20, pressureKpa: 101.3, humidityPct: 30 }],
  ['sae-j607', { temperatureC: 15.56, pressureKpa: 101.32, humidityPct: 0 }],
  ['none', HOT],
] as const)('%s is 1 to 1e-3 at its reference', (id, weather) => {
  expect(Math.abs(correctionById(id).factor(weather) - 1)).toBeLessThan(1e-3)
})
it('say where they do not hold: more than 7 % from 1, or a temperature outside', () => {
  const thin = { temperatureC: 35, pressureKpa: 88, humidityPct: 30 }
  expect(correctionById('sae-j1349').outside(thin)).toMatch(/more than 7 %/)
  expect(correctionById('iso-1585').outside(COLD)).toMatch(/outside its 15 to 35 °C/)
  expect(CORRECTIONS.every((one) => one.outside({ temperatureC: 25, pressureKpa: 99, humidityPct: 20 }) === null)).toBe(
    true,
  )
})
