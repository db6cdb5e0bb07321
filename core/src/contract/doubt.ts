import { array, type InferType } from 'yup'
import { DOUBTS } from '../checks/doubt'
import { choice, closed, id, words } from './fields'
import { readAsSchema } from './run'

/** Something that came in and is not believed before it is cleared. */
export const doubtSchema = closed({
  kind: choice(DOUBTS).required(),
  runs: array().of(id().required()).required().meta({ description: 'in doubt; none for the set as a whole' }),
  text: words(1000).required(),
  offer: closed({ label: words(100).required(), readAs: readAsSchema.required() })
    .nullable()
    .optional()
    .default(undefined)
    .defined()
    .meta({
      description: 'how those runs may be read instead (POST /jobs/{job}/read-as); null where a look is needed',
    }),
}).meta({ ref: 'Doubt' })
export type DoubtAnswer = InferType<typeof doubtSchema>
