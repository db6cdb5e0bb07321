import { array, boolean, lazy, mixed, number, object, string, ValidationError } from 'yup'
import { FUELS } from '../fuel/fuels'
import type { Filters } from '../run/run'
import type { Mapping } from '../log/recognise'
import { RUN_KINDS } from '../run/runKind'
import type { ChangeLimits } from '../change/limits'
import { TARGET_PRESETS, type TargetChoice } from '../field/target'
import type { PlanChoice } from '../plan/choice'
import { planSchema, powerSchema, runPlaceFields, type PowerSettings } from './setSchemas'
import { jettingSchema, type JettingSettings } from './jettingSchemas'
import { settingSchema, sparkSchema } from './sparkSchemas'
import type { SparkSettings } from '../spark/choice'
import { MAX_BREAKPOINTS, type LoadAxis, type LoadGrid, type Matrix } from '../table/table'

/** One field at fault, by its path. */
export interface FieldFault {
  field: string
  message: string
}

/** Input refused at a door: which fields, and why. */
export class InputError extends Error {
  constructor(readonly faults: readonly FieldFault[]) {
    super(faults.map((fault) => `${fault.field}: ${fault.message}`).join('; '))
    this.name = 'InputError'
  }
}

/**
 * Checks input against a schema. Nothing is coerced; unknown fields are refused by name.
 *
 * @throws InputError with every field at fault
 */
export function checkInput<T>(schema: { validateSync(value: unknown, options: object): T }, raw: unknown): T {
  try {
    return schema.validateSync(raw, { strict: true, abortEarly: false })
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error
    const inner = error.inner.length ? error.inner : [error]
    throw new InputError(
      inner.flatMap((one) => {
        const unknown = one.type === 'noUnknown' ? String(one.params?.['unknown'] ?? '').split(', ') : []
        const path = one.path ? `${one.path}.` : ''
        if (unknown.length) return unknown.map((name) => ({ field: `${path}${name}`, message: 'is not known here' }))
        return [
          {
            field: one.path || 'body',
            message: one.message.replace(new RegExp(`^${escape(one.path ?? 'this')} `), ''),
          },
        ]
      }),
    )
  }
}

const escape = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

const text = (most: number) => string().strict().trim().max(most)
const amount = (least: number, most: number) => number().strict().min(least).max(most)

export const USES = ['road', 'track', 'strip', 'other'] as const

const machine = object({
  name: text(120),
  cylinders: amount(1, 12).integer(),
  displacementCc: amount(10, 20000),
  strokes: number().strict().oneOf([2, 4]),
  /** supercharged or turbocharged */
  forcedInduction: boolean().strict(),
})
  .noUnknown()
  .default(undefined)

const fuel = object({
  id: string()
    .strict()
    .oneOf([...FUELS.map((one) => one.id), 'custom'])
    .required(),
  /** Only for a custom blend */
  stoichAfr: amount(4, 20).when('id', { is: 'custom', then: (schema) => schema.required() }),
})
  .noUnknown()
  .default(undefined)

const breakpoints = array().of(amount(0, 30000).required()).min(2).max(MAX_BREAKPOINTS)
const lambda = () => amount(0.5, 1.6)

const zone = object({
  fromRpm: amount(0, 30000).required(),
  toRpm: amount(0, 30000).required(),
  fromLoad: amount(0, 400).required(),
  toLoad: amount(0, 400).required(),
  lambda: lambda().required(),
}).noUnknown()

const targetChoice = object({
  preset: string()
    .strict()
    .oneOf(TARGET_PRESETS.map((one) => one.id))
    .required(),
  zones: array().of(zone).max(40).required(),
}).noUnknown()

const filters = object({
  throttleRate: amount(1, 1000),
  settle: amount(0, 10),
  coolantLeast: amount(-50, 150),
  revCeiling: amount(500, 30000).nullable(),
}).noUnknown()

const mixture = object({
  target: targetChoice.required(),
  lagMs: amount(0, 3000).nullable().defined(),
  filters: filters.required(),
  leaveOutOdd: boolean().strict().required(),
  runsLeftOut: array().of(string().strict().required()).max(2000).required(),
  set: string().strict().nullable(),
  breakpoints: object({
    loadAxis: string().strict().oneOf(['throttle', 'manifold']).required(),
    rpm: breakpoints.required(),
    load: breakpoints.required(),
  })
    .noUnknown()
    .nullable()
    .default(null),
})
  .noUnknown()
  .default(undefined)

/** What a job may hold beside its title. */
const jobFields = {
  machine,
  fuel,
  gaugeScale: amount(4, 20),
  use: string().strict().oneOf(USES),
  complaint: text(2000),
  fitted: text(2000),
  mixture,
  plan: planSchema,
  power: powerSchema,
  jetting: jettingSchema,
  spark: sparkSchema,
}

export { jobFields as jobFieldSchemas }

/** Body of POST /jobs. */
export const newJobSchema = object({ title: text(160).min(1).required(), ...jobFields }).noUnknown()
/** Body of PATCH /jobs/:job. */
export const jobChangeSchema = object({
  title: text(160).min(1),
  archived: boolean().strict(),
  ...jobFields,
}).noUnknown()

/** A lambda for all nodes, a matrix of them, or a preset with zones. */
const targetInput = lazy((value: unknown) => {
  if (typeof value === 'number') return lambda() as never
  if (Array.isArray(value)) return array().of(array().of(lambda().required()).required()) as never
  return targetChoice.default(undefined) as never
})

const fieldFields = {
  runs: array().of(string().strict().required()).min(1).max(2000),
  rpm: breakpoints,
  load: breakpoints,
  loadAxis: string()
    .strict()
    .oneOf(['throttle', 'manifold'] as const),
  target: targetInput,
  lagMs: amount(0, 3000).nullable(),
  method: string()
    .strict()
    .oneOf(['solve', 'nearest'] as const),
  options: object({
    filters: filters.default(undefined),
    leaveOutOdd: boolean().strict(),
    alpha: amount(0, 10),
    beta: amount(0, 10),
  })
    .noUnknown()
    .default(undefined),
}

/** Body of POST /jobs/:job/field. */
export const fieldRequestSchema = object(fieldFields).noUnknown()

const limits = object({
  richest: amount(0, 100),
  leanest: amount(0, 50),
  leanestHighLoad: amount(0, 50),
  highLoad: amount(0, 400),
  least: amount(0, 10),
  bridge: boolean().strict(),
  fill: boolean().strict(),
})
  .noUnknown()
  .default(undefined)

/** Body of POST /jobs/:job/change: the table stands for the breakpoints. */
export const changeRequestSchema = object({
  ...fieldFields,
  table: string().strict().required(),
  revision: amount(1, 1e6).integer(),
  cylinder: amount(1, 12).integer().nullable(),
  limits,
}).noUnknown()

/** Body of POST /jobs/:job/tables: a table and how it is called. */
export const newTableSchema = object({
  name: text(120).min(1).required(),
  cylinder: amount(1, 12).integer().nullable(),
  table: mixed().required(),
  reason: text(500),
}).noUnknown()

/** Body of POST /tables/:table/revisions. */
export const newRevisionSchema = object({
  values: mixed<Matrix>((value): value is Matrix => Array.isArray(value)).required(),
  reason: text(500).min(1).required(),
  parent: amount(1, 1e6).integer().required(),
  runs: array().of(string().strict().required()).max(2000),
  /** percent that the module adds to every cell of a trim that adds; as it was when left out */
  global: amount(-95, 300),
  /** why a large step is taken all the same */
  override: text(500).min(1),
  /** hardware that was changed with it, and the factor on the fuel that this alone asks of the table: taken out before a step is judged */
  hardware: object({ what: text(200).min(1).required(), factor: amount(0.2, 5).required() })
    .noUnknown()
    .default(undefined),
}).noUnknown()

/** A revision by table. */
export function isRevisions(value: unknown): value is Record<string, number> {
  const isObject = typeof value === 'object' && value !== null && !Array.isArray(value)
  return isObject && Object.values(value).every((n: unknown) => Number.isInteger(n) && (n as number) > 0)
}

/** Body of PATCH /jobs/:job/runs/:run. */
export const runChangeSchema = object({
  name: text(160).min(1),
  kind: string().strict().oneOf(RUN_KINDS),
  gaugeScale: amount(4, 20),
  setting: settingSchema,
  /** revision by table that was in force while it was made */
  revisions: mixed<Record<string, number>>(isRevisions),
  ...runPlaceFields,
}).noUnknown()

const columnMapping = object({ channel: string().strict().required(), unit: string().strict().defined() })
  .noUnknown()
  .nullable()

/**
 * Checks the `mapping` part of an upload: header to channel and unit, or null to leave a column out.
 *
 * @throws InputError naming the header
 */
export function checkMapping(raw: unknown): Mapping {
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw)) {
    throw new InputError([{ field: 'mapping', message: 'must be an object from header to {channel, unit} or null' }])
  }
  const entries = Object.entries(raw).map(([header, value]) => {
    try {
      return [header, checkInput(columnMapping, value)] as const
    } catch (error) {
      if (!(error instanceof InputError)) throw error
      throw new InputError(
        error.faults.map((fault) => ({ field: `mapping["${header}"].${fault.field}`, message: fault.message })),
      )
    }
  })
  return Object.fromEntries(entries)
}

/** What a tuner chose at the mixture stage; kept with the job. */
export interface MixtureSettings {
  target: TargetChoice
  /** ms; null to estimate it */
  lagMs: number | null
  filters: Partial<Filters>
  leaveOutOdd: boolean
  runsLeftOut: string[]
  /** set whose runs make the field; null or absent for the newest */
  set?: string | null
  breakpoints: LoadGrid | null
}

export interface Machine {
  name?: string
  cylinders?: number
  displacementCc?: number
  strokes?: number
  forcedInduction?: boolean
}

/** A job as asked for. */
export interface NewJob {
  title: string
  machine?: Machine
  fuel?: { id: string; stoichAfr?: number }
  /** AFR the gauge shows at lambda 1 */
  gaugeScale?: number
  use?: (typeof USES)[number]
  complaint?: string
  fitted?: string
  mixture?: MixtureSettings
  plan?: PlanChoice
  power?: PowerSettings
  jetting?: JettingSettings | null
  spark?: SparkSettings | null
}

export type JobChange = Partial<NewJob> & { archived?: boolean }

/** A field as asked for; what is left out is taken from the job. */
export interface FieldRequest {
  runs?: string[]
  rpm?: number[]
  load?: number[]
  loadAxis?: LoadAxis
  target?: number | Matrix | TargetChoice
  lagMs?: number | null
  method?: 'solve' | 'nearest'
  options?: { filters?: Partial<Filters>; leaveOutOdd?: boolean; alpha?: number; beta?: number }
}

/** A change as asked for. */
export interface ChangeRequest extends FieldRequest {
  table: string
  revision?: number
  cylinder?: number | null
  limits?: Partial<ChangeLimits>
}
