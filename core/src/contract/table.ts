import { array, mixed, number, object, type InferType } from 'yup'
import { inForceFault, RULED_BY } from '../table/inForce'
import { LARGE_STEP_UNITS } from '../change/largeSteps'
import { tableSchema } from './tableJson'
import { wayTakenSchema } from './ways'
import { amount, choice, closed, count, figure, id, knownFigure, text, time, words, yesNo } from './fields'

const cylinder = () => amount(1, 12).integer().nullable()

/** Where a map is in force on a controller with several. */
export const inForceSchema = closed({
  by: choice(RULED_BY).required().meta({ description: 'what the controller decides by' }),
  from: amount(0, 30_000).nullable().defined(),
  to: amount(0, 30_000)
    .nullable()
    .defined()
    .meta({ description: 'above from; two maps that overlap cross over there' }),
}).test(
  'range',
  ({ path }) => `${path} needs from, or to above it`,
  (one) => !one || inForceFault(one) === null,
)

/** An immutable saved state of a table. */
const revisionInfoSchema = closed({
  n: number().strict().integer().min(1).required(),
  parent: number().strict().integer().min(1).nullable().defined(),
  reason: words(500),
  override: words(500).nullable().meta({ description: 'why a large step was taken all the same' }),
  runs: array().of(id()).required().meta({ description: 'that it rests on' }),
  createdAt: time().required(),
  way: wayTakenSchema.nullable().meta({ description: 'the way that it put in, where it is no table of its own' }),
})

export type RevisionInfo = InferType<typeof revisionInfoSchema>

/** A table of a job with its revisions. */
export const tableInfoSchema = closed({
  id: id(),
  job: id(),
  name: words(120),
  cylinder: cylinder().defined().meta({ description: 'that it serves; null when it serves all' }),
  inForce: inForceSchema.nullable().defined().meta({ description: 'where it is in force; null where it always is' }),
  table: tableSchema.required().meta({ description: 'as in the latest revision' }),
  revisions: array().of(revisionInfoSchema.required()).min(1).required(),
}).meta({ ref: 'TableInfo' })

export type TableInfo = InferType<typeof tableInfoSchema>

/** Body of POST /jobs/:job/tables: a table and how it is called. */
export const newTableSchema = closed({
  name: text(120).min(1).required(),
  cylinder: cylinder(),
  inForce: inForceSchema.nullable().optional().default(undefined),
  // What is wrong in a table is told by its own check, cell by cell.
  table: mixed<object>((value): value is object => typeof value === 'object')
    .required()
    .meta({ json: { $ref: 'TableInput' } }),
  reason: text(500),
  override: text(500).min(1).meta({ description: 'why values that no usual engine runs on are so; recorded' }),
}).meta({ ref: 'NewTable' })

/** Body of PATCH /jobs/:job/tables/:table. */
export const tableChangeSchema = closed({
  name: text(120).min(1),
  inForce: inForceSchema.nullable().optional().default(undefined),
  removed: yesNo().meta({ description: 'true takes it out, false puts it back' }),
}).meta({ ref: 'TableChange' })
export type TableChange = InferType<typeof tableChangeSchema>

export type NewTable = InferType<typeof newTableSchema>

const revisionFields = {
  values: mixed<number[][]>((value): value is number[][] => Array.isArray(value))
    .required()
    .meta({ json: { $ref: 'Matrix' } }),
  reason: text(500).min(1).required(),
  parent: amount(1, 1e6).integer().required(),
  runs: array().of(id()).max(2000),
  global: amount(-95, 300).meta({
    description:
      'percent that the module adds to every cell; only beside a fuel trim that adds; as it was when left out',
  }),
  override: text(500).min(1).meta({ description: 'why a large step is taken all the same; recorded' }),
  hardware: object({ what: text(200).min(3).required(), factor: amount(0.2, 5).required() })
    .noUnknown()
    .optional()
    .default(undefined)
    .meta({
      description:
        'hardware that was changed, and the factor that this alone asks of the table; taken out before a step is judged',
    }),
}

/** Body of POST /tables/:table/revisions. */
export const newRevisionSchema = closed(revisionFields).meta({ ref: 'NewRevision' })
/** Body of POST /jobs/:job/revisions: all are saved, or none. */
export const newRevisionsSchema = closed({
  revisions: array()
    .of(closed({ table: id(), ...revisionFields }).required())
    .min(1)
    .max(24)
    .required(),
}).meta({ ref: 'NewRevisions' })

export type NewRevision = InferType<typeof newRevisionSchema>
export type NewRevisions = InferType<typeof newRevisionsSchema>

/** A cell whose step is too large to be taken unasked. */
const largeStepSchema = closed({
  row: count(),
  column: count(),
  rpm: figure(),
  load: figure(),
  size: knownFigure().meta({ description: 'percent of fuel or degrees; null from no fuel at all' }),
  limit: figure(),
  unit: choice(LARGE_STEP_UNITS).required(),
})

/** Answer of POST .../revisions/check: none when it may be saved as it is. */
export const checkedRevisionSchema = closed({
  steps: array().of(largeStepSchema.required()).required(),
  from: words().meta({ description: 'what it was judged against, as "revision 2"' }),
  text: words(),
}).meta({ ref: 'CheckedRevision' })

/** A revision with its cells. */
export const revisionSchema = closed({
  ...revisionInfoSchema.fields,
  table: tableSchema.required(),
}).meta({ ref: 'Revision' })

/** A table with every state that may still matter, oldest first. */
export const historySchema = closed({
  id: id(),
  name: words(),
  cylinder: cylinder().defined(),
  states: array()
    .of(closed({ n: count(), at: time().required(), table: tableSchema.required() }).required())
    .required(),
}).meta({ ref: 'TableHistory' })
