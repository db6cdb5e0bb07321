import { type InferType } from 'yup'
import { amount, choice, closed, count, figure, id, knownFigure, text, time, words, yesNo } from './fields'

/** Body of POST /jobs/:job/rig: a line of one's own. */
export const newRigLineSchema = closed({
  text: text(200).min(1).required(),
  why: text(300),
  minutes: amount(0, 240),
}).meta({ ref: 'NewRigLine' })
/** Body of PATCH /jobs/:job/rig/:line. */
export const rigLineChangeSchema = closed({ done: yesNo().required() }).meta({ ref: 'RigLineChange' })
/** A line of the rig list. */
export const rigLineSchema = closed({
  id: id(),
  text: words(200),
  why: words(300),
  minutes: knownFigure(),
  caution: words(400).nullable().meta({ description: 'where it can hurt' }),
  gate: yesNo().required().meta({ description: 'nothing is run before it is ticked' }),
  from: choice(['made from the job', 'own', 'like machine']).required(),
  done: yesNo().required(),
}).meta({ ref: 'RigLine' })
export type RigLine = InferType<typeof rigLineSchema>

/** Two probes in one gas against each other. */
export const probeCheckSchema = closed({
  cylinder: count(),
  first: count(),
  second: count(),
  samples: count(),
  differencePct: figure(),
  spreadPct: figure(),
  agree: yesNo().required(),
  off: knownFigure().meta({ description: 'the probe that is off, where a closed loop tells' }),
}).meta({ ref: 'ProbeCheck' })

export const DUE = ['write', 'road', 'hand-over'] as const
const putBackFields = {
  what: text(160).min(1).required(),
  was: text(160).min(1).required(),
  now: text(160).min(1).required(),
  due: choice(DUE).required(),
}
/** Body of POST /jobs/:job/put-back. */
export const newPutBackSchema = closed(putBackFields).meta({ ref: 'NewPutBack' })
/** Body of PATCH /jobs/:job/put-back/:line: back, or left so and who was told. */
export const putBackChangeSchema = closed({
  back: yesNo(),
  leftSo: yesNo(),
  told: text(160)
    .min(1)
    .when('leftSo', { is: true, then: (schema) => schema.required('must name who was told') }),
  photo: text(80).min(1).nullable().meta({ description: 'line of the logbook whose photo shows how it was' }),
}).meta({ ref: 'PutBackChange' })
/** Something that was changed only for the session. */
export const putBackSchema = closed({
  id: id(),
  at: time().required(),
  ...putBackFields,
  automatic: yesNo().required().meta({ description: 'written by the application for what it changed itself' }),
  back: yesNo().required(),
  leftSo: yesNo().required(),
  told: words(160).nullable(),
  photo: words(80).nullable().optional().default(undefined).meta({ description: 'line of the logbook with its photo' }),
}).meta({ ref: 'PutBack' })
export type PutBack = InferType<typeof putBackSchema>
export type PutBackChange = InferType<typeof putBackChangeSchema>
export type NewPutBack = InferType<typeof newPutBackSchema>
