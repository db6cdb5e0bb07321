import { array, type InferType } from 'yup'
import { WORKSHOP_ACTS } from '../trainer/acts'
import { DIAGNOSES } from '../trainer/diagnoses'
import { rigSpeed } from './benchChoice'
import { choice, closed, count, figure, id, words, yesNo } from './fields'

/** Body of PUT /jobs/:job/training/bench. */
export const trainerBenchSchema = closed({
  speed: rigSpeed(),
}).meta({
  ref: 'TrainingBench',
})
/** Body of POST /jobs/:job/training/acts. */
export const workshopSchema = closed({ act: choice(WORKSHOP_ACTS.map((one) => one.id)).required() }).meta({
  ref: 'WorkshopAct',
})
/** Body of POST /jobs/:job/training/finish. */
export const diagnosisSchema = closed({ diagnosis: choice(DIAGNOSES.map((one) => one.id)).required() }).meta({
  ref: 'Diagnosis',
})

/** A case of the trainer, as far as it may be told. */
export const openCaseSchema = closed({
  id: id(),
  title: words(),
  brief: words(),
  machine: words(),
  cylinders: count(),
}).meta({ ref: 'OpenCase' })

export type OpenCase = InferType<typeof openCaseSchema>

const scoreLine = closed({
  what: choice(['mixture', 'diagnosis', 'looked', 'runs', 'time', 'safety']).required(),
  points: figure(),
  most: figure(),
  text: words(),
})
const result = closed({
  diagnosis: words(),
  truth: words(),
  found: yesNo().required(),
  points: figure(),
  lines: array().of(scoreLine.required()).required(),
  expert: array().of(words()).required(),
  unsafe: array()
    .of(closed({ time: figure(), what: words() }).required())
    .required(),
})

/** Answer of GET /jobs/:job/training. */
export const trainingSchema = closed({
  case: openCaseSchema.required(),
  acts: array()
    .of(closed({ id: id(), name: words(), minutes: figure(), done: yesNo().required() }).required())
    .required(),
  diagnoses: array()
    .of(closed({ id: id(), name: words() }).required())
    .required(),
  runs: count(),
  minutes: figure(),
  unsafe: count(),
  result: result.nullable().defined(),
}).meta({ ref: 'Training' })

export type TrainingResult = NonNullable<TrainingState['result']>
export type TrainingState = InferType<typeof trainingSchema>
