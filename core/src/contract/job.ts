import { object, string, type InferType } from 'yup'
import type { CorrectionId } from '../air/corrections'
import { FUELS } from '../fuel/fuels'
import { correctionId } from './air'
import { briefFields } from './brief'
import { amount, choice, closed, count, id, text, time, yesNo } from './fields'
import { jettingSchema } from './jetting'
import { mixtureSchema } from './mixture'
import { planSchema } from './plan'
import { sparkSchema } from './spark'

export const USES = ['road', 'track', 'strip', 'other'] as const

const machine = object({
  name: text(120),
  cylinders: amount(1, 12).integer(),
  displacementCc: amount(10, 20000),
  strokes: amount(2, 4).oneOf([2, 4]).meta({ description: '2 or 4' }),
  forcedInduction: yesNo().meta({ description: 'supercharged or turbocharged' }),
})
  .noUnknown()
  .optional()
  .default(undefined)
  .meta({ ref: 'Machine' })

const fuel = object({
  id: string()
    .strict()
    .oneOf([...FUELS.map((one) => one.id), 'custom'])
    .required(),
  stoichAfr: amount(4, 20)
    .when('id', { is: 'custom', then: (schema) => schema.required() })
    .meta({ description: 'kg of air per kg of fuel; for a custom blend only' }),
})
  .noUnknown()
  .optional()
  .default(undefined)
  .meta({ ref: 'Fuel' })

/** How figures of power are shown, kept with the job. */
const powerSchema = closed({
  correction: correctionId().required(),
  smoothing: amount(50, 1000).required().meta({ description: 'rpm to either side of a point' }),
}).meta({ ref: 'PowerChoice' })

export type PowerSettings = InferType<typeof powerSchema>
export const DEFAULT_POWER: PowerSettings = { correction: 'sae-j1349' satisfies CorrectionId, smoothing: 150 }

/** What a job may hold beside its title. */
export const jobFields = {
  machine,
  fuel,
  gaugeScale: amount(4, 20).meta({ description: 'AFR the gauge shows at lambda 1' }),
  use: choice(USES),
  complaint: text(2000),
  fitted: text(2000),
  ...briefFields,
  mixture: mixtureSchema.optional().default(undefined),
  plan: planSchema,
  power: powerSchema.optional().default(undefined),
  jetting: jettingSchema,
  spark: sparkSchema,
}

const override = text(500).min(1).meta({ description: 'why what can hurt is wanted all the same, this once; recorded' })

/** Body of POST /jobs. */
export const newJobSchema = closed({ title: text(160).min(1).required(), ...jobFields, override }).meta({
  ref: 'NewJob',
})
/** Body of PATCH /jobs/:job. */
export const jobChangeSchema = closed({ title: text(160).min(1), archived: yesNo(), ...jobFields, override }).meta({
  ref: 'JobChange',
})

export type NewJob = InferType<typeof newJobSchema>
export type JobChange = InferType<typeof jobChangeSchema>

/** One machine in for one piece of work, as the HTTP interface tells it. */
export const jobSchema = closed({
  id: id(),
  title: text(160).required(),
  archived: yesNo().required(),
  createdAt: time().required(),
  doneAt: time().nullable().meta({ description: 'handed over then; read-only until it is reopened' }),
  ...jobFields,
  gaugeScale: jobFields.gaugeScale.required(),
  mixture: mixtureSchema.required(),
  power: powerSchema.required(),
  runCount: count(),
  tableCount: count(),
}).meta({ ref: 'Job' })

export type Job = InferType<typeof jobSchema>
