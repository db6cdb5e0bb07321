import { array, boolean, number, object, string, type InferType, type TestContext, type ValidationError } from 'yup'
import { wayTakenSchema } from './ways'
import { inForceSchema } from './table'
import { tableInputSchema } from './tableJson'
import { controllerWays } from './bench'
import { amount, choice, closed, count, figure, id, knownFigure, matrix, text, time, words, yesNo } from './fields'
import { WORKSHOP_ACTS } from '../trainer/acts'
import { DIAGNOSES } from '../trainer/diagnoses'
import { PHOTO_TYPES } from './entry'
import { jobFields } from './job'
import { putBackSchema } from './jobLines'
import { complaintSchema } from './complaint'
import { reportSchema } from './report'
import { channelSchema, madeOnSchema, runFields } from './run'
import { newSetSchema } from './set'
import { keptPassSchema } from './strip'

/** Format name inside a job archive; see docs/job.schema.json. */
export const JOB_FORMAT = 'yuzumix-job/1'

/** A place in a list of the archive, as runs and tables are named in it. */
const place = () =>
  string()
    .strict()
    .matches(/^\d{1,6}$/, ({ path }) => `${path} must be a place in a list`)
    .required()

const run = closed({
  ...runFields,
  // Absent in archives from before runs had them.
  setting: runFields.setting.optional(),
  readAs: runFields.readAs.optional(),
  without: runFields.without.optional(),
  stretches: runFields.stretches.optional(),
  revisions: madeOnSchema.optional(),
  createdAt: time(),
  channels: array().of(channelSchema.required()).min(1).required(),
  digest: words(200),
  set: count().meta({ description: 'place of its set in the list' }),
  file: words(200).min(1).meta({ description: 'name of the CSV inside the archive' }),
})

const revision = closed({
  n: number().strict().integer().min(1).required(),
  parent: number().strict().integer().min(1).nullable().defined(),
  reason: words(500),
  override: string().strict().max(500).nullable(),
  global: number().strict().min(-95).max(300),
  runs: array().of(place()).required(),
  cells: array().of(array().of(number().strict().required()).required()).required(),
  createdAt: time().required(),
  // Absent in archives from before there were ways.
  way: wayTakenSchema.nullable().optional(),
})

const areDistinct = (lines: readonly { id: string }[] | undefined): boolean =>
  new Set((lines ?? []).map((one) => one.id)).size === (lines ?? []).length

/** A tick of the rig list by the id of its line, or an own line with its words. */
const storedRigLine = closed({
  id: id(),
  at: time().required(),
  text: text(200),
  why: text(300),
  minutes: amount(0, 240),
  done: yesNo().required(),
})

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

/** What a machine's simulated rig remembers. */
const rigMemory = closed({
  first: array().of(matrix()).required(),
  kept: array().of(matrix()).required(),
  ways: closed({ first: controllerWays.required(), kept: controllerWays.required() }).optional().default(undefined),
  sensors: closed({ closedVolts: knownFigure(), openVolts: knownFigure(), freeAirPct: knownFigure() }).required(),
  readable: yesNo().required(),
})

/** How far somebody has come with a case of the trainer. */
const training = closed({
  caseId: words(200).min(1),
  createdAt: time().required(),
  acts: array()
    .of(choice(WORKSHOP_ACTS.map((one) => one.id)).required())
    .max(1000)
    .required(),
  unsafe: array()
    .of(closed({ time: figure(), what: words(500) }).required())
    .max(10_000)
    .required(),
  seconds: amount(0, 1e8).required(),
  finished: closed({
    diagnosis: choice(DIAGNOSES.map((one) => one.id)).required(),
    at: time().required(),
    runs: count(),
    after: closed({ rms: figure(), worst: figure(), nodes: count() }).required(),
    looked: array().of(yesNo().required()).max(100).optional().default(undefined),
  })
    .nullable()
    .defined(),
})

/** job.json of an archive, whole: nothing is stored of one that does not fit. */
export const archiveSchema = object({
  format: string().strict().oneOf([JOB_FORMAT]).required(),
  job: object({
    ...jobFields,
    title: string().strict().trim().min(1).max(160).required(),
    archived: boolean().strict(),
    doneAt: time().nullable(),
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
        inForce: inForceSchema.nullable().optional().default(undefined),
        table: tableInputSchema.required(),
        revisions: array().of(revision.required()).min(1).required().test('order', revisionsInOrder),
      })
        .noUnknown()
        .required(),
    )
    .required(),
  entries: array()
    .of(
      closed({
        at: time().required(),
        act: words(200),
        text: words(5000),
        kind: choice(['act', 'note']),
        run: place().nullable().optional(),
        rpm: number().strict().nullable(),
        load: number().strict().nullable(),
        photo: closed({ type: choice(PHOTO_TYPES).required(), file: words(200).min(1) })
          .nullable()
          .optional()
          .default(undefined)
          .meta({ description: 'its media type, and the name of the file inside the archive' }),
      }).required(),
    )
    .required(),
  // Absent in archives from before there were any.
  complaints: array().of(complaintSchema.required()).test('ids', 'holds two of one id', areDistinct),
  rig: array().of(storedRigLine.required()).test('ids', 'holds two of one id', areDistinct),
  putBack: array().of(putBackSchema.required()).test('ids', 'holds two of one id', areDistinct),
  passes: array()
    .of(keptPassSchema.required())
    .max(5000)
    .optional()
    .default(undefined)
    .test('ids', 'holds two of one id', areDistinct)
    .meta({ description: 'passes at the strip; set and run are places in their lists' }),
  rigs: array()
    .of(closed({ machine: words(200).min(1), memory: rigMemory.required() }).required())
    .max(100)
    .optional()
    .default(undefined)
    .meta({ description: 'what the simulated rig of each machine remembers in this job' }),
  training: training.nullable().optional().default(undefined),
  reports: array().of(closed({ n: count(), at: time().required(), report: reportSchema.required() }).required()),
})
  .noUnknown()
  .test('sets', (value, context) => {
    const sets = value.sets?.length ?? 0
    const k = (value.runs ?? []).findIndex((one) => (one.set ?? 0) >= sets)
    const path = `runs[${k}].set`
    return k < 0 || context.createError({ path, message: `${path} is no set of the archive` })
  })
  .meta({
    description:
      'One job with its runs, tables and logbook. The columns of each run lie beside it in the zip as CSV: a header of channel (unit), then one row per sample; an empty cell is no reading. Runs and sets are named by their place in the list wherever something points at them.',
  })

export type ArchivedJob = InferType<typeof archiveSchema>
export type ArchivedRun = ArchivedJob['runs'][number]

/** Text parts beside the file of POST /archives. */
export const archiveFormSchema = object({
  override: string().trim().max(500).meta({
    description: 'why what went far without a reason in it is taken all the same; recorded',
  }),
})
