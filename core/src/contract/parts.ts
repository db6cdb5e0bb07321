import { array } from 'yup'
import { IDLE_SIDES, IDLE_WAYS } from '../jetting/idle/idle'
import { amount, choice, closed, count, figure, id, knownFigure, words, yesNo } from './fields'
import { boxSchema, fittedSchema, MOST_CARBURETTORS } from './jetting'

/** Body of POST /jobs/:job/parts. */
export const partsRequestSchema = closed({
  set: id().optional().meta({ description: 'the fitting that is taken as what is in now; the newest when left out' }),
  box: boxSchema.optional().default(undefined).meta({ description: "instead of the job's box" }),
  most: amount(1, 3).integer().meta({ description: 'changes of one proposal at the most; three when left out' }),
  carburettor: amount(0, MOST_CARBURETTORS - 1)
    .integer()
    .meta({ description: 'the one that parts are sought for, from 0; the first when left out' }),
}).meta({ ref: 'PartsRequest' })

const CIRCUITS = ['pilot', 'needle', 'main'] as const
const predicted = closed({ opening: figure(), lambda: figure(), low: figure(), high: figure() })
const circuits = array().of(choice(CIRCUITS).required()).required()

/** Answer of POST /jobs/:job/parts. */
export const partsAnswerSchema = closed({
  readings: array()
    .of(
      closed({
        set: id(),
        rows: array()
          .of(
            array()
              .of(
                closed({
                  opening: figure().meta({ description: 'share of full throttle' }),
                  lambda: figure(),
                  error: figure().meta({ description: 'standard error of ln lambda' }),
                  leanest: figure(),
                  richest: figure(),
                  nodes: count(),
                }).required(),
              )
              .required(),
          )
          .required()
          .meta({ description: 'by carburettor and opening' }),
      }).required(),
    )
    .required(),
  warnings: array().of(words()).required(),
  tipIn: array()
    .of(closed({ count: count(), leanest: figure(), richest: figure() }).nullable().defined())
    .required(),
  list: closed({
    now: figure().meta({ description: 'off target with what is fitted now, RMS of ln, weighted' }),
    byChanges: array()
      .of(
        array()
          .of(
            closed({
              fitted: fittedSchema,
              changed: array().of(words(40)).required(),
              minutes: figure(),
              off: figure(),
              gain: closed({ value: figure(), low: figure(), high: figure() })
                .required()
                .meta({ description: 'how much less off than now, RMS of ln, with its 90 % interval' }),
              worst: closed({ opening: figure(), pct: figure() })
                .required()
                .meta({ description: 'the opening that it leaves furthest off, and fuel that it wants there, %' }),
              predicted: array().of(predicted.required()).required(),
              leanAtFull: yesNo().required(),
              answers: yesNo().required(),
            }).required(),
          )
          .required(),
      )
      .required()
      .meta({ description: 'best with one change, two and three; empty where nothing is better' }),
    tried: count(),
    unknown: circuits,
  })
    .nullable()
    .defined(),
  inadequate: words(),
  advice: array().of(words()).required(),
  air: words(),
  present: closed({
    predicted: array().of(predicted.required()).required(),
    shares: array()
      .of(closed({ opening: figure(), pilot: figure(), needle: figure(), main: figure() }).required())
      .required(),
    unknown: circuits,
  })
    .nullable()
    .defined(),
}).meta({ ref: 'PartsAnswer' })

/** Body of POST /jobs/:job/idle. */
export const idleRequestSchema = closed({
  way: choice(IDLE_WAYS).required(),
  readings: array()
    .of(closed({ turns: amount(0, 12).required(), value: amount(0, 20_000).required() }).required())
    .min(1)
    .max(60)
    .required()
    .meta({ description: 'turns out from gently seated, and rpm, kPa of vacuum or lambda' }),
  side: choice(IDLE_SIDES).meta({ description: 'of the peak on which the screw is left; richer when left out' }),
  richerIsOut: yesNo().meta({ description: "whether out is richer; by the job's kind of screw when left out" }),
  target: amount(0.6, 1.2).meta({ description: 'lambda, for a wideband; that of the job when left out' }),
}).meta({ ref: 'IdleRequest' })

/** Answer of POST /jobs/:job/idle. */
export const idleAnswerSchema = closed({
  turns: knownFigure().meta({
    description: 'of the peak, or where the target is read; null where the readings do not tell',
  }),
  value: knownFigure(),
  error: knownFigure().meta({ description: 'standard error of the turns' }),
  set: knownFigure().meta({ description: 'where the screw is left' }),
  note: words(),
}).meta({ ref: 'IdleAnswer' })
