import { array, type InferType } from 'yup'
import { closed, count, figure, id, knownFigure, matrix, sparseMatrix, words, yesNo } from './fields'
import { fieldSchema, nodeChange } from './field'
import { flatnessSchema } from './report'

/** Body of POST /jobs/:job/loop-step. */
export const loopRequestSchema = closed({
  tables: array().of(id()).min(1).max(20).meta({
    description: 'ids of fuel tables on the same breakpoints; all of the job but those of other ways when left out',
  }),
}).meta({ ref: 'LoopRequest' })

const offNode = closed({ cylinder: count(), row: count(), column: count(), pct: figure() })

/** Answer of POST /jobs/:job/loop-step. */
export const loopStepSchema = closed({
  pass: count().meta({ description: 'of measuring and correcting, from 1' }),
  set: id().nullable().defined().meta({ description: 'whose runs were taken; null for none' }),
  runs: array().of(id()).required(),
  field: fieldSchema
    .nullable()
    .defined()
    .meta({ description: 'on the breakpoints of the tables; null where nothing can be told' }),
  note: words().meta({ description: 'why nothing can be told; empty where there is no run' }),
  flatness: flatnessSchema.nullable().defined(),
  isFlat: yesNo().required().meta({
    description: 'within 1 % typically and 2.5 % at worst, or with nothing left that the readings can tell from chance',
  }),
  changes: array()
    .of(
      closed({
        table: id(),
        cylinder: knownFigure(),
        nodes: array().of(array().of(nodeChange.required()).required()).required(),
        values: matrix(),
        predicted: sparseMatrix(),
      }).required(),
    )
    .required()
    .meta({ description: 'what the step asks of each table' }),
  proof: closed({ nodes: count(), rms: figure(), worst: offNode.required(), within: figure() })
    .nullable()
    .defined()
    .meta({ description: 'what the last correction was to bring against what was measured after it, %' }),
}).meta({ ref: 'LoopStep' })
export type LoopAnswer = InferType<typeof loopStepSchema>
