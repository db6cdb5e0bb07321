import { array, type InferType } from 'yup'
import { closed, count, figure, words, yesNo } from './fields'

/** Answer of GET /jobs/:job/verdict. */
export const verdictSchema = closed({
  retune: yesNo().nullable().defined().meta({ description: 'null while only a measurement can tell' }),
  level: words(20).nullable().meta({ description: 'level of service: base map, middle, full; null for none' }),
  enough: yesNo().required().meta({ description: 'what is left lies inside what the gauge can tell' }),
  state: words(400).nullable().meta({ description: 'set of runs and revisions that it speaks of; null without one' }),
  why: array().of(words(400)).min(1).required(),
  findings: array().of(words(1000)).required().meta({
    description: 'what the runs show beside their figures: misfires, cells that do not answer, held zones, odd runs',
  }),
  levels: array()
    .of(
      closed({
        level: words(20),
        runs: count(),
        minutes: figure(),
        unmeasured: words(300),
        next: words(300),
      }).required(),
    )
    .required(),
}).meta({ ref: 'Verdict' })
export type Verdict = InferType<typeof verdictSchema>
