/** Troposphere of ISO 2533: sea-level values and the lapse of temperature with geopotential height. */
const SEA = { kelvin: 288.15, pressureKpa: 101.325, density: 1.225 }
const LAPSE = 0.0065
const GAS = 287.05287
const GRAVITY = 9.80665
const EXPONENT = GRAVITY / (GAS * LAPSE)

/**
 * The standard atmosphere at a height.
 *
 * @param height geopotential metres, -2000 to 11000
 * @throws RangeError outside the troposphere
 * @see ISO 2533:1975, Standard Atmosphere
 */
export function standardAtmosphere(height: number): { temperatureC: number; pressureKpa: number; density: number } {
  if (!(height >= -2000 && height <= 11000)) throw new RangeError('Height must be between -2000 and 11000 m.')
  const share = 1 - (LAPSE * height) / SEA.kelvin
  return {
    temperatureC: SEA.kelvin * share - 273.15,
    pressureKpa: SEA.pressureKpa * share ** EXPONENT,
    density: SEA.density * share ** (EXPONENT - 1),
  }
}

/**
 * Height in the standard atmosphere at which air has this density, m. Negative when the air is denser than at sea level.
 *
 * @param density kg/m³, above zero
 * @throws RangeError unless density is above zero
 */
export function densityAltitude(density: number): number {
  if (!(density > 0)) throw new RangeError('Density must be above zero.')
  return (SEA.kelvin / LAPSE) * (1 - (density / SEA.density) ** (1 / (EXPONENT - 1)))
}
