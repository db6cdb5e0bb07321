/**
 * Source: J. B. Heywood, Internal Combustion Engine Fundamentals, ch. 3 and table D.4 (stoichiometric A/F by mass).
 * The table's values are quoted from memory: isooctane 15.13, methanol 6.47, ethanol 9.00, propane 15.67, gasoline
 * about 14.6. Tolerance 0.5 %: rounding of the table and of atomic masses.
 */
import { fuelById } from '../src/fuel/fuels'
import { stoichiometricAfr } from '../src/fuel/stoichiometry'

it.each([
  ['isooctane', { c: 8, h: 18, o: 0 }, 15.13],
  ['methanol', { c: 1, h: 4, o: 1 }, 6.47],
  ['ethanol', { c: 2, h: 6, o: 1 }, 9.0],
  ['propane', { c: 3, h: 8, o: 0 }, 15.67],
])('%s', (_name, atoms, published) => {
  expect(Math.abs(stoichiometricAfr(atoms) / published - 1)).toBeLessThan(0.005)
})

it('gasoline is about 14.6', () => {
  expect(Math.abs(fuelById('petrol')!.stoichAfr / 14.6 - 1)).toBeLessThan(0.005)
})

it('methane by hand: CH4 + 2 (O2 + 3.773 N2), 16.04 g of fuel and 276.5 g of air', () => {
  expect(stoichiometricAfr({ c: 1, h: 4, o: 0 })).toBeCloseTo((2 * (31.998 + 3.773 * 28.16)) / 16.043, 3)
})
