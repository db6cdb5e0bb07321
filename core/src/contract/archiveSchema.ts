import { array, boolean, number, object, string, mixed, type TestContext, type ValidationError } from 'yup'
import { channelKind } from '../run/channels'
import { RUN_KINDS } from '../run/runKind'
import { tableSchema } from '../table/json'
import { isRevisions, jobFieldSchemas } from './schemas'
import { leftOutSchema, newSetSchema } from './setSchemas'
import { settingSchema } from './sparkSchemas'

const words = (most: number) => string().strict().max(most).defined()
const count = () => number().strict().integer().min(0).required()
const time = () =>
  string()
    .strict()
    .test(
      'time',
      ({ path }) => `${path} must be a time as in ISO 8601`,
      (value) => value === undefined || !Number.isNaN(Date.parse(value)),
    )
/** A place in a list of the archive, as runs and tables are named in it. */
const place = () =>
  string()
    .strict()
    .matches(/^\d{1,6}$/, ({ path }) => `${path} must be a place in a list`)
    .required()

const channel = object({
  channel: string()
    .strict()
    .required()
    .test(
      'known',
      ({ path }) => `${path} is no channel`,
      (value) => Boolean(channelKind(value)),
    ),
  unit: words(40),
  count: count(),
  min: number().strict().required(),
  max: number().strict().required(),
}).noUnknown()

const run = object({
  name: words(160).min(1),
  kind: string().strict().oneOf(RUN_KINDS).required(),
  duration: number().strict().required(),
  warnings: array().of(words(2000)).required(),
  gaugeScale: number().strict().nullable().defined(),
  digest: words(200),
  samples: count(),
  set: count(),
  leftOut: leftOutSchema.defined(),
  setting: settingSchema,
  revisions: mixed(isRevisions),
  createdAt: time(),
  file: words(200).min(1),
  channels: array().of(channel.required()).min(1).required(),
}).noUnknown()

const revision = object({
  n: number().strict().integer().min(1).required(),
  parent: number().strict().integer().min(1).nullable().defined(),
  reason: words(500),
  override: string().strict().max(500).nullable(),
  global: number().strict().min(-95).max(300),
  runs: array().of(place()).required(),
  cells: array().of(array().of(number().strict().required()).required()).required(),
  createdAt: time().required(),
}).noUnknown()

/** Revisions count from 1 without a gap, and each rests on an earlier one. */
function revisionsInOrder(
  value: { n?: number; parent?: number | null }[] | undefined,
  context: TestContext,
): true | ValidationError {
  const fault = (k: number, what: string): ValidationError =>
    context.createError({
      path: `${context.path}[${k}].${what}`,
      message: `${context.path}[${k}].${what} is out of order`,
    })
  for (const [k, one] of (value ?? []).entries()) {
    if (one.n !== k + 1) return fault(k, 'n')
    if (one.parent != null && one.parent >= one.n) return fault(k, 'parent')
  }
  return true
}

/** job.json of an archive, whole: nothing is stored of one that does not fit. */
export const archiveSchema = object({
  format: string().strict().required(),
  job: object({
    ...jobFieldSchemas,
    title: string().strict().trim().min(1).max(160).required(),
    archived: boolean().strict(),
  })
    .noUnknown()
    .required(),
  sets: array().of(newSetSchema.required()).required(),
  runs: array().of(run.required()).required(),
  tables: array()
    .of(
      object({
        name: words(120).min(1),
        cylinder: number().strict().integer().min(1).max(12).nullable().defined(),
        table: tableSchema.required(),
        revisions: array().of(revision.required()).min(1).required().test('order', revisionsInOrder),
      })
        .noUnknown()
        .required(),
    )
    .required(),
  entries: array()
    .of(
      object({ at: time().required(), act: words(200), text: words(5000) })
        .noUnknown()
        .required(),
    )
    .required(),
})
  .noUnknown()
  .test('sets', (value, context) => {
    const sets = value.sets?.length ?? 0
    const k = (value.runs ?? []).findIndex((one) => (one.set ?? 0) >= sets)
    const path = `runs[${k}].set`
    return k < 0 || context.createError({ path, message: `${path} is no set of the archive` })
  })
