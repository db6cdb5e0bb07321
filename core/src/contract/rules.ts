import { array } from 'yup'
import { DANGERS } from '../refusal/dangers'
import { choice, closed, figure, words, yesNo } from './fields'

const limits = () => closed({ least: figure(), most: figure(), unit: words(20) })

/** Answer of GET /rules. */
export const rulesSchema = closed({
  steps: closed({
    fuel: limits().required(),
    fuelUnderLoad: limits().required().meta({ description: 'from 70 % of load, and where a cell reads lean already' }),
    spark: limits().required(),
    acceleration: limits().required(),
  })
    .required()
    .meta({ description: 'furthest step of a cell that is taken without a reason (common practice)' }),
  gates: array()
    .of(
      closed({
        call: words(60),
        method: words(10),
        path: words(200),
        asksAbout: array().of(choice(DANGERS).required()).required(),
        changesMachine: yesNo().required().meta({ description: 'licensed work refuses it' }),
      }).required(),
    )
    .required()
    .meta({ description: 'a call that asks answers 409, with override among its errors, until a reason is given' }),
}).meta({ ref: 'Rules' })
