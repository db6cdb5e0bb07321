import { array, lazy, number, object, type InferType, type Schema } from 'yup'
import { CHANGE_REASONS } from '../change/suggest'
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

const fieldFields = {
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
    bridge: yesNo().meta({ description: 'suggest for cells between readings, too; true when left out' }),
    fill: yesNo().meta({ description: 'go on flat into cells beyond all readings' }),
  })
    .optional()
    .default(undefined),
}).meta({ ref: 'ChangeRequest' })

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
  cylinders: array().of(cylinder.required()).required(),
  heldZones: array()
    .of(closed({ load: figure(), fromRpm: figure(), toRpm: figure() }).required())
    .required(),
  runs: array()
    .of(closed({ id: id(), used: count(), setAside: setAside.required(), odd: band.nullable().defined() }).required())
    .required(),
}).meta({ ref: 'Field' })

export type FieldAnswer = InferType<typeof fieldSchema>

const ARITHMETIC = ['measured', 'bridged', 'since', 'filled', 'taper', 'shrink', 'limit', 'apply', 'stay'] as const
const nodeChange = closed({
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
}).meta({ ref: 'Change' })
