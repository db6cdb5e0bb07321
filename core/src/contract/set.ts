import { array, number, object, type InferType } from 'yup'
import { TORQUE_SOURCES } from '../curves/torque/measuredTorque'
import { QUANTITIES } from '../curves/torque/quantity'
import { SENSOR_PLACES } from '../run/run'
import { correctionId, someWeather } from './air'
import { amount, choice, closed, count, id, speed, text, time } from './fields'
import { fittingSchema } from './jetting'

const rising = (values: (number | undefined)[] | undefined): boolean =>
  !values || values.every((value, k) => k === 0 || value! > values[k - 1]!)

const figures = object({
  quantity: choice(QUANTITIES).required(),
  correction: correctionId().required(),
  rpm: array()
    .of(speed().required())
    .min(2)
    .max(200)
    .required()
    .test('rising', 'must rise from one to the next', rising),
  mean: array().of(amount(-1000, 5000).required()).required(),
  spread: array().of(amount(0, 1000).required()).required().meta({ description: 'standard deviation over machines' }),
  machines: amount(1, 1000).integer().required(),
})
  .noUnknown()
  .test('lengths', 'rpm, mean and spread must be of one length', (value) =>
    value === null || value === undefined
      ? true
      : value.rpm?.length === value.mean?.length && value.rpm?.length === value.spread?.length,
  )
  .nullable()
  .optional()
  .default(undefined)
  .meta({ description: 'a reference of stock machines entered as figures, instead of runs' })

const setFields = {
  setup: text(400).meta({ description: 'exhaust, baffle, filter: the state of the hardware' }),
  calibration: text(200).meta({ description: 'what is in the controller' }),
  rig: text(160),
  gear: amount(1, 12).integer().nullable(),
  sensorPlace: choice(SENSOR_PLACES).nullable(),
  weather: someWeather(),
  inertia: number()
    .strict()
    .moreThan(0, 'must be above zero, in kg·m²')
    .max(1000)
    .nullable()
    .meta({ description: 'kg·m² of the drum' }),
  drumWindow: amount(0.05, 3).meta({ description: 's over which the speed of the drum is fitted' }),
  torqueSource: choice(TORQUE_SOURCES).nullable(),
  figures,
  fitting: fittingSchema,
  pass: amount(1, 1000)
    .integer()
    .nullable()
    .meta({ description: 'which pass of the guided loop it is; null for none' }),
}

/** Body of POST /jobs/:job/sets. */
export const newSetSchema = object({ name: text(120).min(1).required(), ...setFields })
  .noUnknown()
  .meta({ ref: 'NewSet' })
/** Body of PATCH /jobs/:job/sets/:set. */
export const setChangeSchema = object({ name: text(120).min(1), ...setFields })
  .noUnknown()
  .meta({ ref: 'SetChange' })

export type NewSet = InferType<typeof newSetSchema>
export type SetChange = InferType<typeof setChangeSchema>

/** Runs that were made in one state of the machine, and how they were measured. */
export const runSetSchema = closed({
  id: id(),
  job: id(),
  name: text(120).required(),
  setup: setFields.setup.defined(),
  calibration: setFields.calibration.defined(),
  rig: setFields.rig.defined(),
  gear: setFields.gear.defined(),
  sensorPlace: setFields.sensorPlace.defined(),
  weather: setFields.weather.defined(),
  inertia: setFields.inertia.defined(),
  drumWindow: setFields.drumWindow.required(),
  torqueSource: setFields.torqueSource.defined(),
  figures: setFields.figures.defined(),
  fitting: setFields.fitting.defined(),
  pass: setFields.pass.defined(),
  runCount: count(),
  createdAt: time().required(),
}).meta({ ref: 'Set' })

export type RunSet = InferType<typeof runSetSchema>
/** What is said of a set of runs: the state of the machine, and how it was measured. */
export type SetFacts = Omit<RunSet, 'id' | 'job' | 'name' | 'runCount' | 'createdAt'>

export const DEFAULT_SET: SetFacts = {
  setup: '',
  calibration: '',
  rig: '',
  gear: null,
  sensorPlace: null,
  weather: null,
  inertia: null,
  drumWindow: 0.4,
  torqueSource: null,
  figures: null,
  fitting: null,
  pass: null,
}
