import { array, type InferType } from 'yup'
import { choice, closed, figures, knownFigure, LOAD_AXES, sparseMatrix, words } from './fields'

/** Answer of POST /jobs/:job/beside. */
export const besideSchema = closed({
  rpm: figures(),
  load: figures(),
  loadAxis: choice(LOAD_AXES).required(),
  steadyPct: sparseMatrix().meta({
    description: 'scatter of the mixture over 0.3 to 2 s without its trend, % of lambda',
  }),
  channels: array()
    .of(
      closed({
        channel: words(40).meta({ description: 'exhaust1 ..., duty1 ..., head or oil' }),
        mean: sparseMatrix(),
        most: sparseMatrix(),
        limit: knownFigure().meta({
          description: 'in the unit of the channel; common practice where the job says none',
        }),
      }).required(),
    )
    .required(),
  heat: closed({
    perPercent: knownFigure().meta({ description: '°C of exhaust gas for each percent leaner, at the same cells' }),
    low: knownFigure(),
    high: knownFigure(),
    verdict: choice(['agree', 'disagree', 'untold']).required(),
    said: words(600),
  }).required(),
}).meta({ ref: 'Beside' })
export type BesideAnswer = InferType<typeof besideSchema>
