import { array, tuple, type InferType } from 'yup'
import { QUANTITIES } from '../curves/torque/quantity'
import { SENSOR_PLACES } from '../run/run'
import { correctionId, someWeather } from './air'
import {
  amount,
  choice,
  closed,
  count,
  figure,
  figures,
  id,
  knownFigure,
  knownFigures,
  speed,
  words,
  yesNo,
} from './fields'

const MISMATCHES = ['correction', 'rig', 'gear', 'sensor place', 'torque source'] as const
const advance = () => amount(-10, 70).nullable().defined()
const band = closed({ fromRpm: speed().required(), toRpm: speed().required() })

/** Body of POST /jobs/:job/compare. */
export const compareRequestSchema = closed({
  first: array()
    .of(id())
    .min(1)
    .max(20)
    .required()
    .meta({ description: 'one set, or several stock machines that make a reference together' }),
  second: id(),
  stop: amount(0, 110)
    .nullable()
    .defined()
    .meta({ description: 'throttle stop in %; null for runs without a throttle' }),
  quantity: choice(QUANTITIES).required(),
  correction: correctionId(),
  smoothing: amount(50, 1000).meta({ description: 'rpm to either side' }),
  bands: array().of(band.required()).max(12),
  at: array().of(speed().required()).max(24),
  accept: array().of(choice(MISMATCHES).required()).meta({ description: 'mismatches to compare across all the same' }),
  settings: closed({ first: advance(), second: advance() })
    .optional()
    .default(undefined)
    .meta({ description: 'take only sweeps made at these advance settings, degrees: of the first, and of the second' }),
  confidence: amount(0.5, 0.999).meta({ description: 'of the intervals; 0.9' }),
  rate: amount(0.001, 0.5).meta({ description: 'false-discovery rate of the shading; 0.05' }),
}).meta({ ref: 'CompareRequest' })

export type CompareRequest = InferType<typeof compareRequestSchema>

const mismatch = closed({
  what: choice(MISMATCHES).required(),
  weight: choice(['refuse', 'note']).required(),
  message: words(),
})
const conditions = closed({
  rig: words(),
  gear: knownFigure(),
  sensorPlace: choice(SENSOR_PLACES).nullable().defined(),
  weather: someWeather().defined(),
  weatherLogged: yesNo().required(),
  mixed: words().nullable(),
  torqueFrom: words(),
})
const hole = closed({
  fromRpm: figure(),
  toRpm: figure(),
  depthPct: figure(),
  deepestRpm: figure(),
  mixturePct: knownFigure(),
  verdict: choice(['lean', 'rich', 'mixture on target', 'mixture not known']).required(),
})
const side = closed({
  name: words(),
  runs: count(),
  warmUps: count().meta({ description: 'runs kept out because the engine was still warming up' }),
  correction: words(),
  warning: words().nullable(),
  conditions: conditions.nullable().defined(),
  misfires: array()
    .of(closed({ fromRpm: figure(), toRpm: figure() }).required())
    .required()
    .meta({ description: 'bands in which runs misfire: left out of means, gains and holes' }),
  holes: array().of(hole.required()).required(),
  spread: closed({ mean: knownFigures(), low: knownFigures(), high: knownFigures(), runs: figures() })
    .nullable()
    .defined()
    .meta({ description: 'over its runs, by bin of the ruler' }),
}).meta({ ref: 'ComparedSide' })
const ENDS = ['has a peak', 'still rising', 'falling all along'] as const
const gain = closed({
  what: choice(['peak', 'highest speed of both', 'mean over a band', 'area over a band', 'at an rpm']).required(),
  band: band.nullable().defined(),
  rpm: tuple([figure(), figure()]).nullable().defined(),
  first: figure(),
  second: figure(),
  difference: figure(),
  percent: knownFigure(),
  ends: tuple([choice(ENDS).required(), choice(ENDS).required()]).optional(),
  low: knownFigure(),
  high: knownFigure(),
})

/** Answer of POST /jobs/:job/compare. */
export const comparedSchema = closed({
  ruler: closed({ first: figure(), step: figure(), count: count() }).required(),
  quantity: choice(QUANTITIES).required(),
  first: side.required(),
  second: side.required(),
  mismatches: array().of(mismatch.required()).required(),
  refused: array().of(mismatch.required()).required(),
  scope: words().nullable().meta({ description: 'what machines it speaks of, where that could be misread' }),
  broughtToStop: words()
    .nullable()
    .meta({ description: 'how torque was brought to the throttle stop, where runs were not held at it' }),
  comparison: closed({
    rpm: figures(),
    first: knownFigures(),
    second: knownFigures(),
    difference: knownFigures(),
    low: knownFigures(),
    high: knownFigures(),
    real: array().of(yesNo().required()).required(),
    note: words().nullable(),
  }).required(),
  gains: array().of(gain.required()).required(),
  gainBegins: knownFigure().meta({ description: 'rpm at which the largest gain begins' }),
  gainBeginsWithin: tuple([figure(), figure()])
    .nullable()
    .defined()
    .meta({ description: 'its 90 % interval over runs, rpm' }),
}).meta({ ref: 'Compared' })

export type ComparedAnswer = InferType<typeof comparedSchema>
