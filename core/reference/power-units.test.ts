/** Handbook constants of power and torque: kW = N·m rpm / 9549.3, hp = lb·ft rpm / 5252, 1 hp 745.7 W, 1 PS 735.5 W, 1 lb·ft 1.3558 N·m. */
import { powerKw, torqueNm } from '../src/curves/torque/powerUnits'
import { UNITS } from '../src/words/units'

it('kW from N·m and rpm', () => {
  expect(powerKw(100, 9549.3)).toBeCloseTo(100, 3)
  expect(torqueNm(powerKw(38.2, 6400), 6400)).toBeCloseTo(38.2, 9)
})
it('hp from lb·ft and rpm by 5252', () => {
  const nm = 100 / UNITS.torque['lb·ft'].factor
  expect(powerKw(nm, 5252) * UNITS.power.hp.factor).toBeCloseTo(100, 2)
})
it('hp, PS and lb·ft', () => {
  expect(1000 / UNITS.power.hp.factor).toBeCloseTo(745.7, 1)
  expect(1000 / UNITS.power.PS.factor).toBeCloseTo(735.5, 1)
  expect(1 / UNITS.torque['lb·ft'].factor).toBeCloseTo(1.3558, 4)
})
