import { airDensity, type Weather } from '../../air/weather'
import { jetArea, type JetScheme } from './jetSizes'

/** What another air asks of a jet. */
export interface JetCorrection {
  /** density there over density here */
  density: number
  /** on the jet's area: the root of the density ratio, because fuel follows the root of the signal */
  area: number
  /** on a number by diameter: the fourth root; on a number by flow: that of the area */
  number: number
}

/**
 * What the mixture (lambda) of the same jets is multiplied by from one air to another: the root of the density ratio
 * (Bernoulli; Heywood ch. 7, from memory).
 */
export function mixtureInAir(from: Weather, to: Weather): number {
  return Math.sqrt(airDensity(to) / airDensity(from))
}

/** Correction of a jet from one air to another, so that the mixture stays what it is. */
export function jetCorrection(from: Weather, to: Weather, scheme: JetScheme): JetCorrection {
  const density = airDensity(to) / airDensity(from)
  const area = mixtureInAir(from, to)
  return { density, area, number: scheme === 'diameter' ? Math.sqrt(area) : area }
}

/** The jet of the box nearest to a wanted number, the richer of two that are equally near; null when the box is empty. */
export function nearestJet(box: readonly number[], wanted: number): number | null {
  return box.reduce<number | null>((best, one) => {
    if (best === null) return one
    const [a, b] = [Math.abs(one - wanted), Math.abs(best - wanted)]
    return a < b || (a === b && one > best) ? one : best
  }, null)
}

/** One field of a density card. */
export interface CardEntry {
  weather: Weather
  /** percent on the jet's area */
  areaPct: number
  number: number
  /** at hand, nearest to it; null when the box is empty */
  jet: number | null
}

/** A card for other days or places: what the main jet that is right in this air should be there. */
export function densityCard(
  here: Weather,
  jet: number,
  scheme: JetScheme,
  box: readonly number[],
  places: readonly Weather[],
): CardEntry[] {
  return places.map((weather) => {
    const correction = jetCorrection(here, weather, scheme)
    const number = jet * correction.number
    return {
      weather,
      areaPct: 100 * (jetArea(number, scheme) / jetArea(jet, scheme) - 1),
      number,
      jet: nearestJet(box, number),
    }
  })
}
