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
  rig: words(400),
  weather: words(200),
  correction: words(400),
  limits: array().of(words(300)).required(),
  power: closed({
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
    refused: array().of(words(400)).required(),
  })
    .nullable()
    .defined(),
  mixture: closed({ before: mixture.nullable().defined(), after: mixture.nullable().defined() }).required(),
  findings: array().of(words(600).required()).meta({
    description: 'what the last runs show beside their figures; absent in reports from before there were any',
  }),
  changes: array()
    .of(
      closed({
        table: words(120),
        zone: words(40),
        largest: figureSchema.required(),
        typical: figureSchema.required(),
        why: words(500),
      }).required(),
    )
    .required(),
  complaints: array()
    .of(
      closed({
        complaint: complaintSchema.required(),
        said: words(300).meta({ description: 'what the last runs show there' }),
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
