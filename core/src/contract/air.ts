import { array, number } from 'yup'
import { CORRECTION_IDS } from '../air/corrections'
import { WEATHER_LIMITS } from '../air/weather'
import { choice, closed, figure, words } from './fields'

const within = ([least, most]: readonly [number, number], hint: string) => {
  const message = `is outside ${least} to ${most} ${hint}`
  return number().strict().min(least, message).max(most, message).required()
}

/** The air at a place; pressure as it stands there, not reduced to sea level. */
export const weatherSchema = closed({
  temperatureC: within(WEATHER_LIMITS.temperatureC, '°C'),
  pressureKpa: within(WEATHER_LIMITS.pressureKpa, 'kPa; 1013 hPa is 101.3 kPa, as it stands at the place').meta({
    description: 'as it stands at the place',
  }),
  humidityPct: within(WEATHER_LIMITS.humidityPct, '% relative'),
}).meta({ ref: 'Weather' })
export const someWeather = () => weatherSchema.nullable().optional().default(undefined)

export const correctionId = () => choice(CORRECTION_IDS).meta({ ref: 'CorrectionId' })

/** Answer of POST /air. */
export const airSchema = closed({
  vapourKpa: figure(),
  dryKpa: figure(),
  density: figure().meta({ description: 'kg/m³' }),
  densityAltitudeM: figure(),
  corrections: array()
    .of(
      closed({
        id: correctionId().required(),
        name: words(),
        reference: words(),
        factor: figure(),
        outside: words().nullable().meta({ description: 'why it does not hold in this weather' }),
      }).required(),
    )
    .required(),
}).meta({ ref: 'Air' })
