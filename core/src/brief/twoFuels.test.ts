import { ethanolBlendAfr } from '../fuel/fuels'
import { fuelWithEthanol, twoFuels } from './twoFuels'

it('ethanol of the tank and of what is sold here that differ are told, both', () => {
  expect(twoFuels({ fuel: { id: 'e10' }, fuelSold: { ethanolPct: 5 } })).toEqual({ tank: 10, sold: 5 })
  expect(twoFuels({ fuel: { id: 'petrol' }, fuelSold: { ethanolPct: 10 } })).toEqual({ tank: 0, sold: 10 })
})
it('nothing is asked where they agree, or where one does not tell', () => {
  expect(twoFuels({ fuel: { id: 'e5' }, fuelSold: { ethanolPct: 5 } })).toBeNull()
  expect(twoFuels({ fuel: undefined, fuelSold: { ethanolPct: 5 } })).toBeNull()
  expect(twoFuels({ fuel: { id: 'e5' }, fuelSold: { ethanolPct: null } })).toBeNull()
  expect(twoFuels({ fuel: { id: 'methanol' }, fuelSold: { ethanolPct: 5 } })).toBeNull()
  expect(twoFuels({ fuel: { id: 'custom', stoichAfr: 14.1 }, fuelSold: { ethanolPct: 5 } })).toBeNull()
})
it('petrol with any share of ethanol is a fuel of the job', () => {
  expect(fuelWithEthanol(10)).toEqual({ id: 'e10' })
  expect(fuelWithEthanol(0)).toEqual({ id: 'petrol' })
  const blend = fuelWithEthanol(27)
  expect(blend.id).toBe('custom')
  expect(blend.stoichAfr).toBeCloseTo(ethanolBlendAfr(27), 2)
})
