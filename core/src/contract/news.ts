import { array, type InferType } from 'yup'
import { choice, closed } from './fields'

/** What of a job can change. */
const PARTS = ['job', 'sets', 'runs', 'tables', 'handling', 'entries', 'reports', 'training', 'bench'] as const
export type JobPart = (typeof PARTS)[number]

/** What a job's stream of news says: which of its parts were changed by an act, by whomever, once it was stored. */
export const jobNewsSchema = closed({
  changed: array().of(choice(PARTS).required()).min(1).required().meta({
    description:
      'ask for these anew; handling is complaints, rig and put-back lines, bench is who is connected and what it holds',
  }),
}).meta({ ref: 'JobNews' })
export type JobNews = InferType<typeof jobNewsSchema>
