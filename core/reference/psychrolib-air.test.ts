/** Vapour pressure and moist-air density against psychrolib (ASHRAE Handbook of Fundamentals), a general library. */
import { airDensity, saturationPressure, vapourPressure } from '../src/air/weather'

// psychrolib ships one CommonJS object.
// eslint-disable-next-line @typescript-eslint/no-require-imports
const psychrolib = require('psychrolib') as {
  SetUnitSystem(system: unknown): void
  SI: unknown
  GetSatVapPres(temperatureC: number): number
  GetVapPresFromRelHum(temperatureC: number, share: number): number
  GetHumRatioFromVapPres(pa: number, pressurePa: number): number
  GetMoistAirDensity(temperatureC: number, ratio: number, pressurePa: number): number
}

beforeAll(() => psychrolib.SetUnitSystem(psychrolib.SI))

it.each([0, 5, 12, 20, 25, 30, 38, 45])('saturation pressure at %i °C within 0.3 %', (t) => {
  expect(Math.abs((1000 * saturationPressure(t)) / psychrolib.GetSatVapPres(t) - 1)).toBeLessThan(0.003)
})
it.each([
  [5, 102.1, 80],
  [21, 100.6, 55],
  [32, 96.4, 35],
  [40, 89.9, 20],
])('density at %d °C, %d kPa, %d %% within 0.1 %', (temperatureC, pressureKpa, humidityPct) => {
  const weather = { temperatureC, pressureKpa, humidityPct }
  const vapour = psychrolib.GetVapPresFromRelHum(temperatureC, humidityPct / 100)
  const ratio = psychrolib.GetHumRatioFromVapPres(vapour, 1000 * pressureKpa)
  const density = psychrolib.GetMoistAirDensity(temperatureC, ratio, 1000 * pressureKpa)
  expect(Math.abs((1000 * vapourPressure(weather)) / vapour - 1)).toBeLessThan(0.003)
  expect(Math.abs(airDensity(weather) / density - 1)).toBeLessThan(0.001)
})
