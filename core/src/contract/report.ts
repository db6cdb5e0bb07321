import { array, object, type InferType } from 'yup'
import { briefFields } from './brief'
import { choice, closed, count, figure, figures, id, knownFigure, knownFigures, time, words, yesNo } from './fields'
import { jobFields } from './job'
import { putBackSchema } from './jobLines'
import { complaintSchema } from './complaint'

/** A figure of the report, and where it stands: a call, its body, and a JSON pointer into its answer. */
const figureSchema = closed({
  value: figure(),
  unit: words(20),
  low: knownFigure(),
  high: knownFigure(),
  from: closed({
    method: choice(['GET', 'POST']).required(),
    path: words(300),
    body: object().nullable().defined(),
    at: words(200).meta({ description: 'JSON pointer into that answer' }),
  }).required(),
}).meta({ ref: 'Figure' })
export type Figure = InferType<typeof figureSchema>

const named = closed({ name: words(200), figure: figureSchema.required() })
const mixture = closed({
  set: words(200),
  runs: count(),
  typical: figureSchema.required().meta({ description: 'root mean square off target' }),
  worst: figureSchema.nullable().defined(),
  at: words(100),
})

const moved = closed({
  zone: words(40),
  cells: count().optional(),
  largest: figureSchema.required(),
  typical: figureSchema.required(),
})

/** What happened, oldest first: runs, changes of tables, parts and settings, each with what stood behind it. */
const recordSchema = closed({
  at: time().required(),
  kind: choice(['runs', 'change', 'parts', 'spark']).required(),
  what: words(600).meta({ description: 'the set, the revision, the parts or the setting' }),
  asked: words(800).meta({ description: 'who or what asked for it: measured, by hand, in spite of a question' }),
  why: words(600),
  zones: array().of(moved.required()).required().meta({ description: 'what a revision moved, against the one before' }),
  runs: array().of(words(200).required()).required().meta({ description: 'by name: made then, or rested on' }),
  weather: words(200),
  typical: figureSchema.nullable().defined().meta({ description: 'how far these runs are off target' }),
  worst: figureSchema.nullable().defined(),
  where: words(100).meta({ description: 'where they are worst' }),
}).meta({ ref: 'RecordLine' })
export type RecordLine = InferType<typeof recordSchema>

/** A curve of one state of the machine, with the band of its runs. */
const stateSchema = closed({
  name: words(200),
  runs: count(),
  rpm: figures(),
  mean: knownFigures(),
  low: knownFigures(),
  high: knownFigures(),
})
export type ReportState = InferType<typeof stateSchema>

const powerSchema = closed({
  before: words(200),
  after: words(200),
  quantity: words(20),
  unit: words(20),
  stop: knownFigure(),
  rpm: figures(),
  first: knownFigures(),
  second: knownFigures(),
  real: array().of(yesNo().required()).required(),
  gains: array().of(named.required()).required(),
  states: array().of(stateSchema.required()).meta({
    description: 'every state that was measured, in order; absent in reports from before there were more than two',
  }),
  refused: array().of(words(400)).required(),
})
export type ReportPower = InferType<typeof powerSchema>

/** Answer of GET /jobs/:job/report.json. */
export const reportSchema = closed({
  n: count()
    .nullable()
    .defined()
    .meta({ description: 'revision of the report that this is; null while it is not saved' }),
  at: time().required(),
  job: id(),
  title: words(160),
  state: words(120).nullable().meta({ description: 'state of a two-state part that it speaks of' }),
  machine: jobFields.machine,
  fuel: words(200),
  fitted: words(2000),
  changed: briefFields.changed,
  by: words(120).meta({ description: 'who did the work' }),
  workshop: words(160).optional(),
  rider: words(120).optional(),
  identity: words(120).optional(),
  rig: words(400),
  weather: words(200),
  correction: words(400),
  wanted: closed({ least: figure(), most: figure(), gaugeScale: figure() })
    .nullable()
    .optional()
    .default(undefined)
    .meta({ description: 'lambda aimed at over the field, and the AFR that the gauge shows at lambda 1' }),
  limits: array().of(words(300)).required(),
  power: powerSchema.nullable().defined(),
  torque: powerSchema
    .nullable()
    .optional()
    .default(undefined)
    .meta({ description: 'the same of torque; absent in older reports' }),
  record: array().of(recordSchema.required()).meta({
    description: 'what happened, oldest first; absent in reports from before there was one',
  }),
  mixture: closed({ before: mixture.nullable().defined(), after: mixture.nullable().defined() }).required(),
  findings: array().of(words(1200).required()).meta({
    description: 'what the last runs show beside their figures; absent in reports from before there were any',
  }),
  changes: array()
    .of(
      closed({
        table: words(120),
        zone: words(40),
        largest: figureSchema.required(),
        typical: figureSchema.required(),
        why: words(500).meta({ description: 'how many revisions it took: the reasons stand in the record' }),
      }).required(),
    )
    .required(),
  complaints: array()
    .of(
      closed({
        complaint: complaintSchema.required(),
        said: words(400).meta({ description: 'what the last runs show there' }),
        state: words(400).nullable().optional().meta({ description: 'set of those runs' }),
        then: closed({ state: words(400), found: words(40), said: words(400) })
          .nullable()
          .optional()
          .default(undefined)
          .meta({ description: 'what was measured in the state it was about; null where that is the last one' }),
      }).required(),
    )
    .required(),
  putBack: array().of(putBackSchema.required()).required(),
  notMeasured: closed({
    cells: array()
      .of(closed({ rpm: figure(), load: figure() }).required())
      .required(),
    complaints: array().of(words(600)).required(),
    runs: array().of(words(300)).required(),
  }).required(),
  cautions: array().of(words(1200)).required(),
  lookAgain: words(300),
}).meta({ ref: 'Report' })
export type Report = InferType<typeof reportSchema>

/** Answer of POST /jobs/:job/flatness: how far runs are off target. */
export const flatnessSchema = closed({
  nodes: count(),
  held: count(),
  rmsPct: knownFigure(),
  worst: closed({ cylinder: count(), rpm: figure(), load: figure(), pct: figure(), low: figure(), high: figure() })
    .nullable()
    .defined(),
}).meta({ ref: 'Flatness' })
export type FlatnessAnswer = InferType<typeof flatnessSchema>

/** Answer of GET /jobs/:job/tables/:table/moved: what was changed since its first revision, by zone. */
export const movedSchema = closed({
  unit: choice(['%', '°']).required(),
  zones: array()
    .of(
      closed({
        zone: choice(['idle', 'cruise', 'full throttle']).required(),
        cells: count(),
        largest: figure(),
        typical: figure(),
      }).required(),
    )
    .required(),
}).meta({ ref: 'Moved' })
export type Moved = InferType<typeof movedSchema>

/** A report that was saved: a revision of the job. */
export const savedReportSchema = closed({ n: count(), at: time().required() }).meta({ ref: 'SavedReport' })
export type SavedReport = InferType<typeof savedReportSchema>
