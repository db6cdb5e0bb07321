import { dryPressure, ZERO_CELSIUS, type Weather } from './weather'

/** A way to bring power and torque to standard air. Formulas and ranges from memory of the standards. */
export interface Correction {
  id: CorrectionId
  /** as printed with every figure */
  name: string
  /** the air at which it is 1 */
  reference: string
  factor(weather: Weather): number
  /** why it does not hold in this weather, or null */
  outside(weather: Weather): string | null
}

export const CORRECTION_IDS = ['none', 'sae-j1349', 'iso-1585', 'din-70020', 'sae-j607'] as const
export type CorrectionId = (typeof CORRECTION_IDS)[number]

const kelvin = ({ temperatureC }: Weather): number => temperatureC + ZERO_CELSIUS
const INHG = 3.386389

function within7(factor: number): string | null {
  return Math.abs(factor - 1) <= 0.07 ? null : `its factor ${factor.toFixed(3)} is more than 7 % from 1`
}

const j1349 = (weather: Weather): number =>
  1.18 * ((99 / dryPressure(weather)) * Math.sqrt(kelvin(weather) / 298)) - 0.18
const iso1585 = (weather: Weather): number => (99 / dryPressure(weather)) ** 1.2 * (kelvin(weather) / 298) ** 0.6

export const CORRECTIONS: readonly Correction[] = [
  {
    id: 'sae-j1349',
    name: 'SAE J1349',
    reference: '99 kPa dry, 25 °C',
    factor: j1349,
    outside: (weather) => within7(j1349(weather)),
  },
  {
    id: 'iso-1585',
    name: 'ISO 1585',
    reference: '99 kPa dry, 25 °C',
    factor: iso1585,
    outside(weather) {
      const { temperatureC } = weather
      if (temperatureC < 15 || temperatureC > 35) return `${temperatureC} °C is outside its 15 to 35 °C`
      return within7(iso1585(weather))
    },
  },
  {
    id: 'din-70020',
    name: 'DIN 70020',
    reference: '101.3 kPa, 20 °C',
    factor: (weather) => (101.3 / weather.pressureKpa) * Math.sqrt(kelvin(weather) / 293),
    outside: () => null,
  },
  {
    id: 'sae-j607',
    name: 'SAE J607',
    reference: '29.92 inHg dry, 60 °F',
    factor: (weather) => (29.92 / (dryPressure(weather) / INHG)) * Math.sqrt((kelvin(weather) * 1.8) / 520),
    outside: () => null,
  },
  { id: 'none', name: 'uncorrected', reference: 'the air as it was', factor: () => 1, outside: () => null },
]

/** @throws RangeError for an id that is none */
export function correctionById(id: CorrectionId): Correction {
  const found = CORRECTIONS.find((one) => one.id === id)
  if (!found) throw new RangeError(`There is no correction "${String(id)}".`)
  return found
}
