import { array, boolean, number, object, string } from 'yup'
import { choice, closed, words } from './fields'

/** One thing at fault, as a problem document names it. */
const faultSchema = closed({
  message: words(),
  field: string().strict(),
  line: number().strict().integer(),
  column: number().strict().integer(),
})

/** What was wrong, where and what to do (RFC 9457); further members may stand beside. */
export const problemSchema = object({
  type: words().meta({
    description: 'tells problems of one status apart: /problems/handed-over, /problems/stale-revision',
  }),
  title: words(),
  status: number().strict().integer().required(),
  detail: words(),
  errors: array().of(faultSchema.required()).required(),
  latest: number().strict().integer().meta({ description: 'revision that was saved meanwhile' }),
  run: string().strict().meta({ description: 'the run that the same file is' }),
  steps: array().meta({ description: 'cells that move too far', json: { type: 'array', items: { type: 'object' } } }),
}).meta({ ref: 'Problem' })

/** Answer of GET /health. */
export const healthSchema = closed({
  status: choice(['ok']).required(),
  version: words(),
  space: closed({
    freeMb: number().strict().min(0).required(),
    isShort: boolean().strict().required().meta({ description: 'less than 5 % or 500 MB' }),
    said: words(200),
  })
    .required()
    .meta({ description: 'room on the disk that the data lie on' }),
}).meta({ ref: 'Health' })
