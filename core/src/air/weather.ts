/** The air an engine breathed. Pressure as it stands at the place, not reduced to sea level. */
export interface Weather {
  temperatureC: number
  pressureKpa: number
  /** relative, % */
  humidityPct: number
}

/** What weather can be at a place where engines are tuned; outside, a figure was mistyped or has another unit. */
export const WEATHER_LIMITS = {
  temperatureC: [-30, 55],
  pressureKpa: [55, 108],
  humidityPct: [0, 100],
} as const

export const ZERO_CELSIUS = 273.15

/**
 * Saturation vapour pressure over water, kPa, by Magnus' formula.
 *
 * @param temperatureC -45 to 60 °C
 * @see WMO No. 8, Guide to Instruments and Methods of Observation, annex 4.B (from memory)
 */
export function saturationPressure(temperatureC: number): number {
  return 0.6112 * Math.exp((17.62 * temperatureC) / (243.12 + temperatureC))
}

/** Partial pressure of water vapour in the air, kPa. */
export function vapourPressure({ temperatureC, humidityPct }: Weather): number {
  return (humidityPct / 100) * saturationPressure(temperatureC)
}

/** Pressure of the dry air alone, kPa: what brings oxygen. */
export function dryPressure(weather: Weather): number {
  return weather.pressureKpa - vapourPressure(weather)
}

const GAS_DRY = 287.055
const GAS_VAPOUR = 461.52

/**
 * Density of moist air, kg/m³: dry air and vapour as ideal gases.
 *
 * @example
 * airDensity({ temperatureC: 15, pressureKpa: 101.325, humidityPct: 0 }) // 1.225
 */
export function airDensity(weather: Weather): number {
  const kelvin = weather.temperatureC + ZERO_CELSIUS
  return (1000 * dryPressure(weather)) / (GAS_DRY * kelvin) + (1000 * vapourPressure(weather)) / (GAS_VAPOUR * kelvin)
}
