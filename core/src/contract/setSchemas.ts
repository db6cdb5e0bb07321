import { array, boolean, number, object, string } from 'yup'
import { CORRECTION_IDS, type CorrectionId } from '../air/corrections'
import { WEATHER_LIMITS, type Weather } from '../air/weather'
import { SENSOR_PLACES, type SensorPlace } from '../run/run'
import { DEPTHS, PLANNED_KINDS, PURPOSES, SCHOOLS } from '../plan/choice'
import type { Mismatch } from '../curves/conditions'
import type { EnteredFigures } from '../curves/compareSides'
import { TORQUE_SOURCES, type TorqueSource } from '../curves/measuredTorque'
import { QUANTITIES, type Quantity } from '../curves/quantity'
import { fittingSchema, type Fitting } from './jettingSchemas'

const text = (most: number) => string().strict().trim().max(most)
const amount = (least: number, most: number) => number().strict().min(least).max(most)
const rpm = () => amount(0, 30000)

const within = ([least, most]: readonly [number, number], hint: string) => {
  const message = `is outside ${least} to ${most} ${hint}`
  return number().strict().min(least, message).max(most, message).required()
}

/** The air at a place; pressure as it stands there, not reduced to sea level. */
export const weatherSchema = object({
  temperatureC: within(WEATHER_LIMITS.temperatureC, '°C'),
  pressureKpa: within(WEATHER_LIMITS.pressureKpa, 'kPa; 1013 hPa is 101.3 kPa, as it stands at the place'),
  humidityPct: within(WEATHER_LIMITS.humidityPct, '% relative'),
}).noUnknown()

const rising = (values: (number | undefined)[] | undefined): boolean =>
  !values || values.every((value, k) => k === 0 || value! > values[k - 1]!)

const figures = object({
  quantity: string().strict().oneOf(QUANTITIES).required(),
  correction: string().strict().oneOf(CORRECTION_IDS).required(),
  rpm: array().of(rpm().required()).min(2).max(200).required().test('rising', 'must rise from one to the next', rising),
  mean: array().of(amount(-1000, 5000).required()).required(),
  spread: array().of(amount(0, 1000).required()).required(),
  machines: amount(1, 1000).integer().required(),
})
  .noUnknown()
  .test('lengths', 'rpm, mean and spread must be of one length', (value) =>
    value === null || value === undefined
      ? true
      : value.rpm?.length === value.mean?.length && value.rpm?.length === value.spread?.length,
  )
  .nullable()
  .default(undefined)

const setFields = {
  setup: text(400),
  calibration: text(200),
  rig: text(160),
  gear: amount(1, 12).integer().nullable(),
  sensorPlace: string().strict().oneOf(SENSOR_PLACES).nullable(),
  weather: weatherSchema.nullable().default(undefined),
  inertia: number().strict().moreThan(0, 'must be above zero, in kg·m²').max(1000).nullable(),
  drumWindow: amount(0.05, 3),
  torqueSource: string().strict().oneOf(TORQUE_SOURCES).nullable(),
  figures,
  fitting: fittingSchema,
}

/** Body of POST /jobs/:job/sets. */
export const newSetSchema = object({ name: text(120).min(1).required(), ...setFields }).noUnknown()
/** Body of PATCH /jobs/:job/sets/:set. */
export const setChangeSchema = object({ name: text(120).min(1), ...setFields }).noUnknown()

/** What is said of a set of runs: the state of the machine, and how it was measured. */
export interface SetFacts {
  /** exhaust, baffle, filter: the state of the hardware */
  setup: string
  /** what is in the controller */
  calibration: string
  rig: string
  gear: number | null
  sensorPlace: SensorPlace | null
  weather: Weather | null
  /** kg·m² of the drum */
  inertia: number | null
  /** s over which the drum's speed is fitted */
  drumWindow: number
  torqueSource: TorqueSource | null
  /** a reference entered as figures, instead of runs */
  figures: EnteredFigures | null
  /** what is in the carburettors; null where there are none, or nobody said */
  fitting: Fitting | null
}

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
}

/** A set as asked for. */
export type NewSet = { name: string } & Partial<SetFacts>
export type SetChange = Partial<NewSet>

const minutes = (most: number) => amount(0, most).required()

/** The choice behind a run plan, kept with the job. */
export const planSchema = object({
  purpose: string().strict().oneOf(PURPOSES).required(),
  school: string().strict().oneOf(SCHOOLS).required(),
  kinds: array().of(string().strict().oneOf(PLANNED_KINDS).required()).min(1).max(3).required(),
  depth: string().strict().oneOf(DEPTHS).required(),
  fromRpm: amount(300, 29000).required(),
  toRpm: amount(500, 30000)
    .required()
    .when('fromRpm', ([from], schema) =>
      typeof from === 'number' ? schema.min(from + 500, 'must be at least 500 rpm above fromRpm') : schema,
    ),
  gear: amount(1, 12).integer().nullable().defined(),
  minutesAtHand: amount(1, 1440).nullable().defined(),
  pace: object({
    warmUp: minutes(120),
    sweep: minutes(30),
    hold: minutes(30),
    rollOn: minutes(30),
    cooling: minutes(60),
  })
    .noUnknown()
    .required(),
})
  .noUnknown()
  .default(undefined)

/** How figures of power are shown, kept with the job. */
export const powerSchema = object({
  correction: string().strict().oneOf(CORRECTION_IDS).required(),
  smoothing: amount(50, 1000).required(),
})
  .noUnknown()
  .default(undefined)

export interface PowerSettings {
  correction: CorrectionId
  /** rpm to either side of a point */
  smoothing: number
}

export const DEFAULT_POWER: PowerSettings = { correction: 'sae-j1349', smoothing: 150 }

/** Body of POST /jobs/:job/hand-readings. */
export const handReadingsSchema = object({
  name: text(160).min(1),
  set: string().strict(),
  loadAxis: string().strict().oneOf(['throttle', 'manifold']),
  /** AFR the gauge shows at lambda 1, where it differs from the job's */
  gaugeScale: amount(4, 20),
  readings: array()
    .of(
      object({
        rpm: number().strict().required(),
        load: number().strict().required(),
        readings: array().of(string().strict().defined().max(40)).min(1).max(4).required(),
      })
        .noUnknown()
        .required(),
    )
    .min(1)
    .max(1000)
    .required(),
}).noUnknown()

export interface HandRequest {
  name?: string
  set?: string
  loadAxis?: 'throttle' | 'manifold'
  gaugeScale?: number
  readings: { rpm: number; load: number; readings: string[] }[]
}

const advance = () => amount(-10, 70).nullable().defined()
const MISMATCHES = ['correction', 'rig', 'gear', 'sensor place', 'torque source'] as const

/** Body of POST /jobs/:job/compare. */
export const compareRequestSchema = object({
  /** one set, or several stock machines that make a reference together */
  first: array().of(string().strict().required()).min(1).max(20).required(),
  second: string().strict().required(),
  /** throttle stop in %; null for runs without a throttle column */
  stop: amount(0, 110).nullable().defined(),
  quantity: string().strict().oneOf(QUANTITIES).required(),
  correction: string().strict().oneOf(CORRECTION_IDS),
  smoothing: amount(50, 1000),
  bands: array()
    .of(object({ fromRpm: rpm().required(), toRpm: rpm().required() }).noUnknown().required())
    .max(12),
  at: array().of(rpm().required()).max(24),
  accept: array().of(string().strict().oneOf(MISMATCHES).required()),
  /** take only sweeps made at these advance settings, degrees: of the first, and of the second */
  settings: object({ first: advance(), second: advance() }).noUnknown().default(undefined),
  confidence: amount(0.5, 0.999),
  rate: amount(0.001, 0.5),
}).noUnknown()

export interface CompareRequest {
  first: string[]
  second: string
  stop: number | null
  quantity: Quantity
  correction?: CorrectionId
  smoothing?: number
  bands?: { fromRpm: number; toRpm: number }[]
  at?: number[]
  accept?: Mismatch['what'][]
  settings?: { first: number | null; second: number | null }
  confidence?: number
  rate?: number
}

/** What somebody decided to leave out of a run, and why. Without a span the whole run is left out. */
export const leftOutSchema = object({
  fromRpm: rpm().nullable().defined(),
  toRpm: rpm().nullable().defined(),
  reason: text(300).min(1).required(),
})
  .noUnknown()
  .test(
    'span',
    'needs both ends of the span, the lower first, or none',
    (value) =>
      value === null ||
      value === undefined ||
      (value.fromRpm === null && value.toRpm === null) ||
      (value.fromRpm !== null && value.toRpm !== null && value.fromRpm! < value.toRpm!),
  )
  .nullable()
  .default(undefined)

export interface LeftOut {
  fromRpm: number | null
  toRpm: number | null
  reason: string
}

/** Fields of PATCH /jobs/:job/runs/:run that place and judge a run. */
export const runPlaceFields = {
  set: string().strict(),
  leftOut: leftOutSchema,
  removed: boolean().strict(),
}
