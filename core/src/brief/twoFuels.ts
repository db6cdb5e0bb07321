import type { Job } from '../contract/job'
import { ethanolBlendAfr, fuelById, FUELS } from '../fuel/fuels'

/**
 * Ethanol said twice and differently: of the fuel named as in the tank, and of the fuel as sold here. Null where they agree,
 * or one of them does not tell.
 *
 * @returns both in % by volume
 * @example twoFuels({ fuel: { id: 'e10' }, fuelSold: { ethanolPct: 5 } }) // { tank: 10, sold: 5 }
 */
export function twoFuels({ fuel, fuelSold }: Pick<Job, 'fuel' | 'fuelSold'>): { tank: number; sold: number } | null {
  const tank = fuel ? (fuelById(fuel.id)?.ethanolPct ?? null) : null
  const sold = fuelSold?.ethanolPct ?? null
  return tank === null || sold === null || tank === sold ? null : { tank, sold }
}

/**
 * The fuel of a job for petrol with so much ethanol: one of those offered by name, else a blend of its own.
 *
 * @param pct % by volume, as the pump states it
 * @throws RangeError outside 0 to 100
 */
export function fuelWithEthanol(pct: number): NonNullable<Job['fuel']> {
  const named = FUELS.find((one) => one.ethanolPct === pct)
  return named ? { id: named.id } : { id: 'custom', stoichAfr: Number(ethanolBlendAfr(pct).toFixed(2)) }
}
