import { helpfulRun } from './plan'
import { array, lazy, number, object, type InferType, type Schema } from 'yup'
import { ARITHMETIC, CHANGE_REASONS } from '../change/arithmetic'
import { EVIDENCE } from '../field/evidence'
import type { TargetChoice } from '../field/target'
import { REASONS } from '../run/run'
import type { Matrix } from '../table/table'
import {
  amount,
  choice,
  closed,
  count,
  figure,
  id,
  knownFigure,
  LOAD_AXES,
  matrix,
  sparseMatrix,
  text,
  words,
  yesNo,
} from './fields'
import { breakpoints, filtersSchema, someLambda, targetChoiceSchema } from './mixture'

const flat = someLambda()
const cellByCell = array().of(array().of(someLambda().required()).required())
/** One lambda for all cells, a matrix of them, or a preset with zones. */
const target = lazy((value: unknown) => {
  const schema =
    typeof value === 'number'
      ? flat
      : Array.isArray(value)
        ? cellByCell
        : targetChoiceSchema.optional().default(undefined)
  return schema as Schema<number | Matrix | TargetChoice | undefined>
}).meta({ anyOf: [flat, cellByCell, targetChoiceSchema] })

/** What a field is asked with. */
export const fieldFields = {
  runs: array().of(id()).min(1).max(2000).meta({ description: 'ids; all of the runs in use of the job when left out' }),
  rpm: breakpoints(),
  load: breakpoints(),
  loadAxis: choice(LOAD_AXES),
  target,
  lagMs: amount(0, 3000).nullable().meta({ description: 'null to estimate it' }),
  method: choice(['solve', 'nearest']),
  options: closed({
    filters: filtersSchema.optional().default(undefined),
    leaveOutOdd: yesNo(),
    alpha: amount(0, 10),
    beta: amount(0, 10),
  })
    .optional()
    .default(undefined),
}

/** Body of POST /jobs/:job/field. */
export const fieldRequestSchema = closed(fieldFields).meta({ ref: 'FieldRequest' })

/** A field as asked for; what is left out is taken from the job. */
export type FieldRequest = InferType<typeof fieldRequestSchema>

/** Body of POST /jobs/:job/change: the table stands for the breakpoints. */
export const changeRequestSchema = closed({
  ...fieldFields,
  table: id(),
  revision: amount(1, 1e6).integer(),
  cylinder: amount(1, 12).integer().nullable(),
  limits: closed({
    richest: amount(0, 100),
    leanest: amount(0, 50),
    leanestHighLoad: amount(0, 50),
    highLoad: amount(0, 400),
    least: amount(0, 10),
    widest: amount(0.1, 50).meta({ description: 'half width of the interval beyond which a cell is left alone, %' }),
    edge: amount(0, 50).meta({ description: 'largest step at the border of what is known, %; 0 for no taper' }),
    bridge: yesNo().meta({ description: 'suggest for cells between readings, too; true when left out' }),
    equal: yesNo().meta({ description: 'one change for all rows from highLoad up, at each speed' }),
    fill: yesNo().meta({ description: 'go on flat into cells beyond all readings' }),
  })
    .optional()
    .default(undefined),
}).meta({ ref: 'ChangeRequest' })

const span = (least: number, most: number) =>
  array().of(amount(least, most).required()).length(2).optional().default(undefined)
/** Body of POST /jobs/:job/next-run. */
export const nextRunRequestSchema = closed({
  ...fieldFields,
  rpm: span(0, 30_000).meta({ description: 'range that is to ride well' }),
  load: span(0, 400),
  table: text(80).min(1).meta({ description: 'fuel table that is to be corrected; all of the job when left out' }),
  wanted: closed({ typicalPct: amount(0.1, 50).required(), worstPct: amount(0.1, 100).required() })
    .optional()
    .default(undefined),
}).meta({ ref: 'NextRunRequest' })
export type NextRunRequest = InferType<typeof nextRunRequestSchema>

/** Answer of POST /jobs/:job/next-run. */
export const nextRunSchema = closed({
  enough: yesNo().required(),
  typicalPct: figure().meta({
    description: 'RMS expected over points of the range after the change suggested now, the whole of it',
  }),
  worstPct: figure(),
  afterLimits: closed({ typicalPct: figure(), worstPct: figure() }).nullable().defined().meta({
    description: 'what limits of one pass leave until it is measured again; null where that is no more than is wanted',
  }),
  next: closed({
    kind: choice(['sweep', 'hold']).required(),
    load: figure().meta({ description: 'throttle stop, % of plate, on any axis' }),
    fromRpm: figure().meta({ description: 'above toRpm for a sweep down; equal for a hold' }),
    toRpm: figure(),
    minutes: figure(),
  })
    .nullable()
    .defined(),
  why: words(),
  leftOut: words(400).nullable().defined().meta({
    description:
      'what of the range does not count, with its size: small openings are not held to reach there until a run does',
  }),
  ranked: array().of(helpfulRun.required()).required().meta({ description: 'the most helpful runs, best first' }),
  from: closed({
    runs: count().meta({ description: 'runs of this setup that were taken as they would read now' }),
    own: count().meta({
      description: 'those of them that make the field and its change, as /field and /change answer',
    }),
    lag: figure().nullable().defined().meta({ description: 's; one for the machine' }),
  }),
}).meta({ ref: 'NextRun' })

const cylinder = closed({
  cylinder: count(),
  lambda: sparseMatrix(),
  target: matrix(),
  changePct: sparseMatrix().meta({ description: 'the estimate itself, before limits' }),
  lowPct: sparseMatrix(),
  highPct: sparseMatrix(),
  samples: matrix(),
  passes: matrix(),
  evidence: array()
    .of(array().of(choice(EVIDENCE).required()).required())
    .required(),
  held: array().of(array().of(yesNo().required()).required()).required(),
  byTrim: array().of(array().of(yesNo().required()).required()).required(),
  silentPct: sparseMatrix().meta({
    description:
      '% of fuel that was moved since an earlier pass and did not show in the reading: the cell does not answer, and gets no more; null elsewhere',
  }),
  undoPct: sparseMatrix().meta({
    description: 'takes back what was corrected where only a later pass than the first showed a held zone',
  }),
})
const band = closed({ fromRpm: figure(), toRpm: figure(), departurePct: figure() })
const setAside = closed(Object.fromEntries(REASONS.map((reason) => [reason, number().strict().integer().min(0)])))

/** Answer of POST /jobs/:job/field. */
export const fieldSchema = closed({
  rpm: array().of(figure()).required(),
  load: array().of(figure()).required(),
  loadAxis: choice(LOAD_AXES).required(),
  method: choice(['solve', 'nearest']).required(),
  lagMs: figure(),
  lag: closed({
    from: choice(['fixed', 'estimated', 'assumed']).required(),
    errorMs: knownFigure(),
    note: words(),
    disagree: yesNo().required().meta({ description: 'two kinds of evidence lie apart by more than their errors' }),
    byFlow: closed({ baseMs: figure(), perFlow: figure() })
      .nullable()
      .defined()
      .meta({ description: 'where it falls with gas flow: base + perFlow / (rpm x % of opening), perFlow in seconds' }),
    sources: array()
      .of(
        closed({
          what: choice(['throttle chops', 'throttle openings', 'scatter of sweeps']).required(),
          lagMs: figure(),
          errorMs: figure(),
          count: knownFigure(),
        }).required(),
      )
      .required(),
  }).required(),
  commandedUnlike: closed({
    cells: count(),
    worst: closed({ rpm: figure(), load: figure(), logged: figure(), table: figure() }).required(),
  })
    .nullable()
    .defined()
    .meta({ description: 'where the log says that another lambda was commanded than the table beside one of filling' }),
  cylinders: array().of(cylinder.required()).required(),
  straight: closed({
    leavesPct: figure(),
    cells: array().of(sparseMatrix()).required().meta({ description: 'by cylinder and cell' }),
    better: closed({ axis: choice(['rpm', 'load']).required(), at: figure(), leavesPct: figure() })
      .nullable()
      .defined()
      .meta({ description: 'the breakpoint that would take most of it away, and what it would leave' }),
  })
    .nullable()
    .defined()
    .meta({
      description:
        'RMS in % that even the best table on these breakpoints leaves between them; the intervals hold what that table has',
    }),
  heldZones: array()
    .of(closed({ load: figure(), fromRpm: figure(), toRpm: figure() }).required())
    .required(),
  misfires: array()
    .of(
      closed({
        stop: figure(),
        rows: array().of(count()).required(),
        fromRpm: figure(),
        toRpm: figure(),
        cylinder: knownFigure(),
        silent: count(),
        of: count(),
        torquePct: figure(),
        leanerPct: figure(),
        scatterRatio: figure(),
      }).required(),
    )
    .required()
    .meta({
      description: 'spans in which every run of a stop lacks whole cylinders: no fuel; leads, cap, plugs first',
    }),
  runs: array()
    .of(closed({ id: id(), used: count(), setAside: setAside.required(), odd: band.nullable().defined() }).required())
    .required(),
}).meta({ ref: 'Field' })

export type FieldAnswer = InferType<typeof fieldSchema>

export const nodeChange = closed({
  changePct: figure(),
  reason: choice(CHANGE_REASONS).required(),
  bridged: yesNo().required().meta({ description: 'told by readings about it, none of them at it' }),
  before: figure(),
  after: figure(),
  arithmetic: array()
    .of(
      closed({
        what: choice(ARITHMETIC).required(),
        values: object().required(),
        result: figure(),
        reason: choice(CHANGE_REASONS),
      }).required(),
    )
    .required(),
})

const mark = closed({ pct: figure(), row: count(), column: count() })
const roughness = closed({ step: mark.nullable().defined(), bend: mark.nullable().defined() })

/** Answer of POST /jobs/:job/change. */
export const changeSchema = closed({
  table: id(),
  measuredOn: closed({
    revision: knownFigure(),
    latest: count(),
    changedCells: count(),
    olderRuns: array().of(id()).required().meta({ description: 'runs made on older revisions, which are left out' }),
  })
    .required()
    .meta({
      description: 'the revision that the runs were made on; what was changed since is taken off the suggestion',
    }),
  field: fieldSchema.required(),
  cylinder: knownFigure(),
  nodes: array().of(array().of(nodeChange.required()).required()).required(),
  values: matrix(),
  predicted: sparseMatrix(),
  shape: closed({
    before: roughness.required(),
    after: roughness.required(),
    warnings: array()
      .of(
        closed({
          what: choice(['ridge', 'hole']).required(),
          row: count(),
          column: count(),
          pct: figure(),
          along: choice(['rpm', 'load']).required(),
          why: choice(CHANGE_REASONS).required(),
        }).required(),
      )
      .required(),
  })
    .required()
    .meta({ description: 'largest step and bend of the table between neighbours, % of fuel, before and after' }),
}).meta({ ref: 'Change' })
