import { array, boolean, lazy, number, object, string } from 'yup'
import type { Weather } from '../air/weather'
import { SIMULATED_MACHINES } from '../simulator/machinesById'
import { WORKSHOP_ACTS } from '../trainer/acts'
import { DIAGNOSES } from '../trainer/diagnoses'
import type { Matrix } from '../table/table'
import { weatherSchema } from './setSchemas'

const amount = (least: number, most: number) => number().strict().min(least).max(most)
const speed = () => amount(500, 30000).required()
const gear = () => amount(1, 6).integer().required()

const brakes = {
  off: object({ kind: string().strict().required() }).noUnknown(),
  hold: object({ kind: string().strict().required(), rpm: speed() }).noUnknown(),
  sweep: object({ kind: string().strict().required(), toRpm: speed(), rate: amount(20, 5000).required() }).noUnknown(),
}
const kindOf = (value: unknown): string => String((value as { kind?: unknown } | null)?.kind)
const brake = lazy((value: unknown) => {
  if (value === undefined) return object().default(undefined) as never
  const known = brakes[kindOf(value) as keyof typeof brakes]
  return (known ?? object({ kind: string().strict().oneOf(Object.keys(brakes)).required() })) as never
})

/** Controls of a rig that a driver sets. */
export const controlsSchema = object({
  throttle: amount(0, 100),
  brake,
  gear: amount(0, 6).integer(),
  fan: boolean().strict(),
  ignition: boolean().strict(),
  fuel: boolean().strict(),
  sparkOffset: amount(-20, 20),
  fuelOffset: amount(-30, 40),
}).noUnknown()

const kind = () => string().strict().required()
const stop = () => amount(1, 100).required()
const seconds = () => amount(0.5, 120).required()
const stepped = object({
  kind: kind(),
  stop: stop(),
  rpm: speed(),
  offsets: array().of(amount(-30, 40).required()).min(1).max(40).required(),
  seconds: seconds(),
  gear: gear(),
}).noUnknown()
const scripts = {
  'warm-up': object({ kind: kind(), coolantC: amount(30, 110).required() }).noUnknown(),
  sweep: object({
    kind: kind(),
    stop: stop(),
    fromRpm: speed(),
    toRpm: speed(),
    rate: amount(50, 3000).required(),
    gear: gear(),
    sparkOffset: amount(-20, 20),
  }).noUnknown(),
  hold: object({ kind: kind(), stop: stop(), rpm: speed(), seconds: seconds(), gear: gear() }).noUnknown(),
  'roll-on': object({
    kind: kind(),
    fromRpm: speed(),
    fromStop: stop(),
    stop: stop(),
    seconds: seconds(),
    gear: gear(),
  }).noUnknown(),
  'spark step': stepped,
  'mixture step': stepped,
}

/** A run that the rig makes by itself. */
export const scriptSchema = lazy((value: unknown) => {
  const known = scripts[kindOf(value) as keyof typeof scripts]
  return (known ?? object({ kind: string().strict().oneOf(Object.keys(scripts)).required() })) as never
})

/** What stops a run by itself, as a driver may set it. */
export const limitsSchema = object({
  lean: amount(1, 1.3),
  leanBoosted: amount(1, 1.2),
  load: amount(10, 100),
  coolantC: amount(60, 140),
  rpm: amount(2000, 30000),
  knock: amount(0.5, 20),
}).noUnknown()

/** Body of PUT /jobs/:job/bench. */
export const benchSchema = object({
  maker: string().strict().oneOf(['simulated']).required(),
  machine: string()
    .strict()
    .oneOf(SIMULATED_MACHINES.map((one) => one.id))
    .required(),
  seed: amount(1, 1e9).integer(),
  speed: number().strict().oneOf([1, 4]),
  coolantC: amount(0, 100),
  weather: weatherSchema.default(undefined),
}).noUnknown()

export interface BenchChoice {
  maker: 'simulated'
  machine: string
  seed?: number
  speed?: 1 | 4
  coolantC?: number
  weather?: Weather
}

/** Body of PATCH /jobs/:job/bench/faults: what a simulated rig can be made to suffer. */
export const benchFaultsSchema = object({
  lowBattery: amount(0, 6),
  dropDuringWrite: boolean().strict(),
  silent: boolean().strict(),
}).noUnknown()

/** Body of PUT /jobs/:job/training/bench. */
export const trainerBenchSchema = object({ speed: number().strict().oneOf([1, 4]) }).noUnknown()
/** Body of POST /jobs/:job/training/acts. */
export const workshopSchema = object({
  act: string()
    .strict()
    .oneOf(WORKSHOP_ACTS.map((one) => one.id))
    .required(),
}).noUnknown()
/** Body of POST /jobs/:job/training/finish. */
export const diagnosisSchema = object({
  diagnosis: string()
    .strict()
    .oneOf(DIAGNOSES.map((one) => one.id))
    .required(),
}).noUnknown()

/** Body of a write to the bench. */
export const benchWriteSchema = object({
  values: array().of(array().of(number().strict().required()).required()).required(),
  /** why a large step is taken all the same */
  override: string().strict().trim().min(1).max(500),
}).noUnknown()

export interface BenchWrite {
  values: Matrix
  override?: string
}
