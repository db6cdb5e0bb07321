import { array, number, type InferType } from 'yup'
import { amount, choice, closed, count, figure, id, words } from './fields'

/** Body of POST /jobs/:job/road-power. */
export const roadPowerRequestSchema = closed({
  runs: array()
    .of(id())
    .min(1)
    .max(40)
    .required()
    .meta({ description: 'runs or stretches with a road speed; best two over the same road in opposite directions' }),
  massKg: amount(20, 2000).required().meta({ description: 'with rider and fuel' }),
  rotatingMassKg: amount(0, 300).meta({ description: 'what turns, as mass beside it; 0 when left out' }),
  tyreCircumferenceM: amount(0.3, 4).meta({
    description: 'of the driven wheel; tells the gear, and nothing of the torque',
  }),
}).meta({ ref: 'RoadPowerRequest' })
export type RoadPowerRequest = InferType<typeof roadPowerRequestSchema>

/** Answer of POST /jobs/:job/road-power: figures of the road, which are none of a drum. */
export const roadPowerSchema = closed({
  rpm: array().of(figure()).required(),
  torque: array()
    .of(figure())
    .required()
    .meta({ description: 'N·m, traction x road speed / engine speed; no losses added' }),
  low: array().of(figure()).required(),
  high: array().of(figure()).required(),
  confidence: number().strict().required(),
  pulls: count(),
  drag: choice(['coast-down', 'assumed']).required().meta({ description: 'where rolling and drag were told' }),
  slope: choice(['altitude', 'directions', 'left in'])
    .required()
    .meta({ description: 'what the slope of the road was taken out by' }),
  engineTurnsPerWheelTurn: array()
    .of(figure())
    .required()
    .meta({ description: 'by pull, where the circumference was said' }),
  caution: words(400),
}).meta({ ref: 'RoadPower' })
export type RoadPowerTold = InferType<typeof roadPowerSchema>
