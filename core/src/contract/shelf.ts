import { array, type InferType } from 'yup'
import { tableSchema } from './tableJson'
import { closed, count, figure, id, knownFigure, text, time, words, yesNo } from './fields'
import { fittedSchema, jettingSchema } from './jetting'
import { jobFields } from './job'

/** Body of POST /shelf: the latest revision of a table of a job, and its carburettors, are kept under a name. */
export const newShelfSchema = closed({
  job: id(),
  name: text(120).min(1).required(),
  table: text(80).min(1).meta({ description: 'left out where the job has only carburettors' }),
}).meta({ ref: 'NewShelf' })

/** Carburettors as they are kept: what they are, and what was fitted last. */
const keptJets = closed({
  settings: jettingSchema.required(),
  fitted: array().of(fittedSchema).min(1).max(8).nullable().defined(),
})
  .nullable()
  .optional()
  .default(undefined)

/** A calibration kept from an earlier job, with what it was made on. */
export const shelfSchema = closed({
  id: id(),
  name: words(120),
  at: time().required(),
  job: words(200).meta({ description: 'title of the job it comes from' }),
  machine: jobFields.machine,
  fuel: jobFields.fuel,
  changed: jobFields.changed,
  fuelSold: jobFields.fuelSold,
  target: words(60),
  proven: closed({ runs: count(), rmsPct: knownFigure(), worstPct: knownFigure() })
    .required()
    .meta({ description: 'how far it was proven by the last runs on it' }),
  table: tableSchema.nullable().defined().meta({ description: 'null where only carburettors are kept' }),
  jets: keptJets,
  came: tableSchema
    .nullable()
    .optional()
    .default(undefined)
    .meta({ description: 'the same table as the machine came with it; null or absent where that was not kept' }),
}).meta({ ref: 'Shelf' })
export type Shelf = InferType<typeof shelfSchema>

const checkRun = closed({ stop: figure(), fromRpm: figure(), toRpm: figure() })
/** What on the shelf is near a job. */
export const shelfMatchSchema = closed({
  shelf: shelfSchema.required(),
  score: figure().meta({ description: '0 to 1' }),
  differences: array().of(words(300)).required(),
  likes: count().meta({
    description: 'calibrations as near as this one, itself among them; their mean is a better start',
  }),
  checkRuns: array().of(checkRun.required()).required().meta({ description: 'runs that prove or refute it' }),
}).meta({ ref: 'ShelfMatch' })
export type ShelfMatch = InferType<typeof shelfMatchSchema>

/** Body of POST /jobs/:job/shelf-start. */
export const shelfStartSchema = closed({
  shelf: id(),
  mean: yesNo().meta({ description: 'take the mean of all on the shelf that are as near as this one' }),
  override: text(500).min(1).meta({ description: 'why a large step is taken all the same' }),
}).meta({ ref: 'ShelfStart' })
/** What became of it. */
export const shelfStartedSchema = closed({
  table: words(80)
    .nullable()
    .meta({ description: 'that was made or changed; null where only carburettors were taken' }),
  set: words(80).nullable().meta({ description: 'that was made for the jets taken over' }),
  lost: array().of(words(300)).required().meta({ description: 'what was lost in fitting it to other breakpoints' }),
  checkRuns: array().of(checkRun.required()).required(),
}).meta({ ref: 'ShelfStarted' })

/** Body of POST /jobs/:job/tables/:table/against-shelf. */
export const againstShelfSchema = closed({ shelf: id() }).meta({ ref: 'AgainstShelf' })
/** Whether somebody has been in here, in a sentence. */
export const shelfDifferenceSchema = closed({
  said: words(700),
  same: yesNo().required(),
  cells: count(),
  of: count(),
  largest: knownFigure(),
  typical: knownFigure(),
}).meta({ ref: 'ShelfDifference' })
