import { array, type InferType } from 'yup'
import { STRETCH_KINDS } from '../run/stretches'
import { amount, choice, closed, figure, id, knownFigure, text, words } from './fields'

const stretchFields = {
  kind: choice(STRETCH_KINDS).required(),
  name: words(160),
  from: figure().meta({ description: 's of the run' }),
  to: figure(),
}
/** A part of a run, as it is kept. */
export const keptStretchSchema = closed(stretchFields)

/** Answer of GET /jobs/:job/runs/:run/stretches: parts of a run; the id of each is taken wherever a run's is. */
export const stretchSchema = closed({ id: id(), ...stretchFields }).meta({ ref: 'Stretch' })

/** Body of PATCH .../stretches: one of `{split, at}`, `{join}` and `{id, name}`. */
export const stretchChangeSchema = closed({
  split: id().optional(),
  at: amount(0, 1e6).meta({ description: 's of the run' }),
  join: array().of(id()).length(2).optional().default(undefined),
  id: id().optional(),
  name: text(160).min(1),
})
  .test('one', 'needs {split, at}, {join: [id, id]} or {id, name}', ({ split, at, join, id: named, name }) => {
    const asked = [
      split !== undefined && at !== undefined,
      join !== undefined,
      named !== undefined && name !== undefined,
    ]
    return asked.filter(Boolean).length === 1
  })
  .meta({ ref: 'StretchChange' })
export type StretchChange = InferType<typeof stretchChangeSchema>

/** Answer of GET .../pyramid: the least and the most of a channel in even parts of a span. */
export const pyramidSchema = closed({
  time: array().of(figure()).required().meta({ description: 'middle of each part, s' }),
  min: array().of(knownFigure()).required().meta({ description: 'null where nothing was read' }),
  max: array().of(knownFigure()).required(),
}).meta({ ref: 'Pyramid' })
