import { DEFAULT_SET, type RunSet } from '../contract/set'
import { carriedOver } from './carriedOver'

const BEFORE: RunSet = {
  ...DEFAULT_SET,
  id: 'a',
  job: 'j',
  name: 'Stock',
  runCount: 3,
  createdAt: '2026-01-01T00:00:00.000Z',
  setup: 'Stock silencer',
  rig: 'Yard brake',
  gear: 4,
  sensorPlace: 'header',
  weather: { temperatureC: 8, pressureKpa: 99.2, humidityPct: 60 },
  calibration: 'stock',
  pass: 2,
}

it('keeps rig, gear, air and sensor of the set before, and what is told otherwise', () => {
  expect(carriedOver({ name: 'Open' }, BEFORE)).toEqual({
    name: 'Open',
    setup: 'Stock silencer',
    rig: 'Yard brake',
    gear: 4,
    sensorPlace: 'header',
    weather: BEFORE.weather,
    drumWindow: 0.4,
  })
  expect(carriedOver({ name: 'Open', setup: 'Open silencer', gear: null, weather: null }, BEFORE)).toMatchObject({
    setup: 'Open silencer',
    gear: null,
    weather: null,
  })
  // What was in the controller, and which pass it was, was that set's own.
  expect(carriedOver({ name: 'Open' }, BEFORE)).not.toHaveProperty('calibration')
  expect(carriedOver({ name: 'Open' }, BEFORE)).not.toHaveProperty('pass')
})
it('takes nothing for the first, nor for figures of other machines', () => {
  expect(carriedOver({ name: 'First' }, null)).toEqual({ name: 'First' })
  const figures = {
    quantity: 'torque',
    correction: 'none',
    rpm: [1, 2],
    mean: [1, 2],
    spread: [1, 1],
    machines: 4,
  } as const
  expect(
    carriedOver({ name: 'Stock', figures: { ...figures, rpm: [1, 2], mean: [1, 2], spread: [1, 1] } }, BEFORE),
  ).toEqual({
    name: 'Stock',
    figures,
  })
})
it('keeps what is fitted, without what was predicted of it', () => {
  const fitting = { fitted: [{ main: 115 }], reason: 'as found', predicted: [] }
  expect(carriedOver({ name: 'Next' }, { ...BEFORE, fitting }).fitting).toEqual({ ...fitting, predicted: null })
})
