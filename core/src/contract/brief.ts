import { array, type InferType } from 'yup'
import { amount, choice, closed, text, yesNo } from './fields'

/** What can be changed on exhaust and intake. */
export const CHANGED_PARTS = [
  'silencer',
  'header',
  'catalyst',
  'baffle',
  'air filter',
  'airbox lid',
  'intake',
  'cam',
  'other',
] as const
/** Whether a measure of a part is as it was. */
export const ALIKE = ['same', 'other', 'not known'] as const

const changedPart = closed({
  part: choice(CHANGED_PARTS).required(),
  bore: choice(ALIKE).required(),
  length: choice(ALIKE).required(),
  removed: yesNo().required().meta({ description: 'taken out and not replaced' }),
  text: text(300),
})
const twoStates = closed({
  part: text(60).min(1).required(),
  first: text(60).min(1).required(),
  second: text(60).min(1).required(),
}).meta({ description: 'a part that is ridden in two states, such as baffle in and baffle out' })

/** Limits of the machine, told once: plan, filters, bench and report go by them. */
const limitsSchema = closed({
  revCeiling: amount(500, 30_000).nullable().meta({ description: 'rpm that no run goes beyond' }),
  revReason: text(200),
  exhaustC: amount(200, 1200)
    .nullable()
    .meta({ description: '°C that the exhaust gas is kept under; the usual one of its kind when left out' }),
  weakPump: yesNo(),
  softTyre: yesNo(),
  licensed: yesNo().meta({ description: 'aircraft or other licensed work: read and record only' }),
}).meta({ ref: 'MachineLimits' })

const LEVELS_OF_SERVICE = ['base map', 'middle', 'full'] as const

/** Whether the controller may hold the mixture by itself: with its sensor unplugged, or switched off, it does not. */
const CLOSED_LOOPS = ['closed loop', 'no closed loop'] as const

const riggingSchema = closed({
  fuelling: choice(['injected', 'carburetted']),
  closedLoop: choice(CLOSED_LOOPS).meta({
    description:
      'whether the controller may correct the mixture by itself while runs are made; by the fuelling when left out',
  }),
  drive: choice(['drum', 'road']),
  probe: choice(['header', 'tailpipe']),
  pickUp: choice(['wires under the tank', 'clip-on']),
  cylinderNames: array()
    .of(text(30).min(1).required())
    .max(12)
    .meta({ description: 'front, rear, left, right, by number' }),
  probes: array()
    .of(closed({ probe: amount(1, 8).integer().required(), cylinder: amount(1, 12).integer().required() }).required())
    .max(8)
    .meta({ description: 'which probe (lambda1, lambda2 and so on) sits in the gas of which cylinder' }),
  riggingMinutes: amount(0, 1440).nullable(),
  takingOffMinutes: amount(0, 1440).nullable(),
}).meta({ ref: 'Rigging' })

/** What a job may say of the machine as it came in. */
export const briefFields = {
  changed: array().of(changedPart.required()).max(30).optional().default(undefined),
  twoStates: array().of(twoStates.required()).max(6).optional().default(undefined),
  limits: limitsSchema.optional().default(undefined),
  fuelSold: closed({
    grade: text(60),
    ethanolPct: amount(0, 100).nullable(),
    differs: text(500).meta({ description: 'what else differs from where a shelf map came from' }),
  })
    .optional()
    .default(undefined),
  tuner: text(120).meta({ description: 'who does the work, for the report' }),
  workshop: text(160).meta({ description: 'workshop, as the report is headed' }),
  rider: text(120).meta({ description: 'whose machine it is, for the report' }),
  identity: text(120).meta({ description: 'what tells the machine from others: registration, frame or engine number' }),
  service: choice(LEVELS_OF_SERVICE),
  rigging: riggingSchema.optional().default(undefined),
}

export type ChangedPart = InferType<typeof changedPart>
export type MachineLimits = InferType<typeof limitsSchema>
export type Rigging = InferType<typeof riggingSchema>
