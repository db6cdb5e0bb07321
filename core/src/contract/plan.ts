import { array, object } from 'yup'
import { SERVICES, PLANNED_KINDS, PURPOSES, ORDERS } from '../plan/choice'
import { amount, choice, closed, count, figure, id, knownFigure, text, time, words, yesNo } from './fields'

const minutes = (most: number) => amount(0, most).required()

const choiceSchema = object({
  purpose: choice(PURPOSES).required(),
  order: choice(ORDERS).required(),
  kinds: array().of(choice(PLANNED_KINDS).required()).min(1).max(3).required(),
  service: choice(SERVICES).required(),
  fromRpm: amount(300, 29000).required(),
  toRpm: amount(500, 30000)
    .required()
    .when('fromRpm', ([from], schema) =>
      typeof from === 'number' ? schema.min(from + 500, 'must be at least 500 rpm above fromRpm') : schema,
    ),
  gear: amount(1, 12).integer().nullable().defined(),
  minutesAtHand: amount(1, 1440).nullable().defined(),
  pace: object({
    warmUp: minutes(120),
    sweep: minutes(30),
    hold: minutes(30),
    rollOn: minutes(30),
    cooling: minutes(60),
  })
    .noUnknown()
    .required()
    .meta({ description: 'minutes' }),
})
  .noUnknown()
  .meta({ ref: 'PlanChoice' })

/** The choice behind a run plan, kept with the job. */
export const planSchema = choiceSchema.optional().default(undefined)

const step = closed({
  key: id(),
  kind: choice(PLANNED_KINDS).required(),
  stop: figure(),
  fromRpm: figure(),
  toRpm: figure(),
  gear: knownFigure(),
  repeats: count(),
  minutesEach: figure(),
  pauseEach: figure(),
  minutes: figure(),
})
const tick = closed({
  key: id(),
  runs: array().of(id()).required(),
  left: count(),
  almost: array()
    .of(closed({ run: id(), why: words() }).required())
    .required()
    .meta({ description: 'runs that were meant for it but do not count, and why' }),
})
export const helpfulRun = closed({
  kind: choice(['sweep', 'hold']).required(),
  row: count(),
  load: figure(),
  rpm: knownFigure(),
  fromRpm: figure(),
  toRpm: figure(),
  minutes: figure(),
  nodes: count(),
  unknown: count(),
  halfNow: figure(),
  halfAfter: figure(),
  gain: figure(),
})
/** What has to be measured again because spark or mixture moved since. */
export const recheckSchema = closed({
  what: choice(['mixture', 'spark']).required(),
  stop: figure(),
  fromRpm: figure(),
  toRpm: figure(),
  moved: figure().meta({ description: 'percent of fuel (spark to be checked) or degrees (mixture)' }),
  since: time().required().meta({ description: 'runs made since then count' }),
}).meta({ ref: 'Recheck' })

/** Answer of GET /jobs/:job/plan. */
export const runPlanSchema = closed({
  chosen: yesNo()
    .required()
    .meta({ description: 'false while the job has no plan of its own and this is the usual one' }),
  choice: choiceSchema.required(),
  plan: closed({
    warmUpMinutes: figure(),
    steps: array().of(step.required()).required(),
    minutes: figure(),
    overBy: knownFigure(),
  }).required(),
  ticks: array().of(tick.required()).required(),
  next: array().of(helpfulRun.required()).required().meta({ description: 'runs that would tell most, best first' }),
  note: text(500).nullable().defined(),
  again: array()
    .of(recheckSchema.required())
    .required()
    .meta({ description: 'what has to be measured again because spark or mixture moved since' }),
}).meta({ ref: 'RunPlan' })
