import { array, object, string, type InferType, type NumberSchema } from 'yup'
import { DEFAULT_TARGET, TARGET_PRESETS } from '../field/target'
import { DEFAULT_FILTERS } from '../run/run'
import { MAX_BREAKPOINTS } from '../table/table'
import { amount, choice, closed, id, LOAD_AXES, speed, yesNo } from './fields'

export const breakpoints = () => array().of(amount(0, 30000).required()).min(2).max(MAX_BREAKPOINTS)
export const someLambda = () => amount(0.5, 1.6)

/** The upper end of a span: from its lower one up. */
const notBelow =
  (from: string) =>
  ([least]: unknown[], schema: NumberSchema): NumberSchema =>
    typeof least === 'number' ? schema.min(least, `must not be below ${from}`) : schema

const zone = closed({
  fromRpm: speed().required(),
  toRpm: speed().required().when('fromRpm', notBelow('fromRpm')),
  fromLoad: amount(0, 400).required(),
  toLoad: amount(0, 400).required().when('fromLoad', notBelow('fromLoad')),
  lambda: someLambda().required(),
})

/** A wanted mixture: a preset, and zones that differ from it. */
export const targetChoiceSchema = closed({
  preset: choice(TARGET_PRESETS.map((one) => one.id)).required(),
  zones: array().of(zone.required()).max(40).required(),
}).meta({ ref: 'TargetChoice' })

/** Which readings are set aside; the usual ones where nothing is said. */
export const filtersSchema = closed({
  throttleRate: amount(1, 1000).meta({ description: 'throttle counts as moving above this, % per second' }),
  settle: amount(0, 10).meta({ description: 's set aside after the throttle came to rest' }),
  coolantLeast: amount(-50, 150).meta({ description: '°C' }),
  revCeiling: amount(500, 30000).nullable(),
}).meta({ ref: 'Filters' })

/** What a tuner chose at the mixture stage; kept with the job. */
export const mixtureSchema = closed({
  target: targetChoiceSchema.required(),
  lagMs: amount(0, 3000).nullable().defined().meta({ description: 'null to estimate it' }),
  filters: filtersSchema.required(),
  leaveOutOdd: yesNo().required(),
  runsLeftOut: array().of(id()).max(2000).required(),
  set: string()
    .strict()
    .nullable()
    .meta({ description: 'set whose runs make the field; null or absent for the newest' }),
  breakpoints: object({
    loadAxis: choice(LOAD_AXES).required(),
    rpm: breakpoints().required(),
    load: breakpoints().required(),
  })
    .noUnknown()
    .nullable()
    .default(null),
}).meta({ ref: 'MixtureChoice' })

export type MixtureSettings = InferType<typeof mixtureSchema>

/** What a job starts with. */
export const DEFAULT_MIXTURE: MixtureSettings = {
  target: DEFAULT_TARGET,
  lagMs: null,
  filters: DEFAULT_FILTERS,
  leaveOutOdd: true,
  runsLeftOut: [],
  set: null,
  breakpoints: null,
}
