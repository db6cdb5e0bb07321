import { stoichiometricAfr } from './stoichiometry'

/** A fuel as sold, or blended by the user. */
export interface Fuel {
  id: string
  name: string
  /** kg air per kg fuel at lambda 1 */
  stoichAfr: number
  /** % by volume, as the pump states it; null where it is no petrol */
  ethanolPct: number | null
  /** research octane number: how well it resists knock (usual values, from memory) */
  ron: number
}

/** What is sold most. */
export const USUAL_RON = 95

/** Part of a blend: a fuel's stoichiometric ratio and its share by mass. */
export interface BlendPart {
  stoichAfr: number
  massShare: number
}

/** Petrol without oxygenates, mean H/C of 1.87 (Heywood, table D.4: gasoline, about 14.6). */
const PETROL = stoichiometricAfr({ c: 1, h: 1.87, o: 0 })
const ETHANOL = stoichiometricAfr({ c: 2, h: 6, o: 1 })

/** Densities at 15 °C in kg/l, used to turn "% ethanol by volume" on the pump into mass (common handbook values). */
const DENSITY = { petrol: 0.745, ethanol: 0.794 } as const

/**
 * Stoichiometric ratio of a blend: air needed adds up by mass of fuel.
 *
 * @param parts shares by mass, in any common unit; all at least zero and not all zero
 * @returns kg air per kg blend
 * @throws RangeError on negative or empty shares
 */
export function blendAfr(parts: readonly BlendPart[]): number {
  const mass = parts.reduce((sum, part) => sum + part.massShare, 0)
  if (!(mass > 0) || parts.some((part) => !(part.massShare >= 0) || !(part.stoichAfr > 0))) {
    throw new RangeError('A blend needs shares by mass of at least zero, not all zero, and ratios above zero.')
  }
  return parts.reduce((sum, part) => sum + part.massShare * part.stoichAfr, 0) / mass
}

/**
 * Stoichiometric ratio of petrol with ethanol as the pump states it.
 *
 * @param volumePct ethanol in % by volume, 0 to 100
 * @throws RangeError outside 0 to 100
 */
export function ethanolBlendAfr(volumePct: number): number {
  if (!(volumePct >= 0 && volumePct <= 100)) throw new RangeError('Ethanol must be between 0 and 100 % by volume.')
  return blendAfr([
    { stoichAfr: PETROL, massShare: (100 - volumePct) * DENSITY.petrol },
    { stoichAfr: ETHANOL, massShare: volumePct * DENSITY.ethanol },
  ])
}

/** Fuels offered by name; anything else is a custom blend. */
export const FUELS: readonly Fuel[] = [
  { id: 'petrol', name: 'Petrol, no ethanol', stoichAfr: PETROL, ethanolPct: 0, ron: USUAL_RON },
  { id: 'e5', name: 'Petrol, 5 % ethanol', stoichAfr: ethanolBlendAfr(5), ethanolPct: 5, ron: USUAL_RON },
  { id: 'e10', name: 'Petrol, 10 % ethanol', stoichAfr: ethanolBlendAfr(10), ethanolPct: 10, ron: USUAL_RON },
  { id: 'e85', name: '85 % ethanol', stoichAfr: ethanolBlendAfr(85), ethanolPct: 85, ron: 104 },
  { id: 'methanol', name: 'Methanol', stoichAfr: stoichiometricAfr({ c: 1, h: 4, o: 1 }), ethanolPct: null, ron: 109 },
]

/** The fuel with that id, or undefined. */
export function fuelById(id: string): Fuel | undefined {
  return FUELS.find((fuel) => fuel.id === id)
}
