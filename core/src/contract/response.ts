import { array, number, string, tuple, type InferType } from 'yup'
import { PLATE_SHAPES } from '../response/grip/plateTable'
import {
  amount,
  choice,
  closed,
  count,
  figure,
  figures,
  id,
  knownFigure,
  matrix,
  sparseMatrix,
  text,
  words,
  yesNo,
} from './fields'

const asked = {
  runs: array().of(id()).min(1).max(2000).meta({ description: 'ids; those of the set when left out' }),
  set: id().optional().meta({ description: 'the set of the field when left out' }),
  lagMs: amount(0, 3000).nullable().meta({ description: 'travel and time constant together; null to estimate it' }),
  mode: number()
    .strict()
    .integer()
    .min(0)
    .max(20)
    .nullable()
    .meta({ description: 'riding mode; the one most run in when left out' }),
}

/** Body of POST /jobs/:job/response. */
export const responseRequestSchema = closed(asked).meta({ ref: 'ResponseRequest' })
export type ResponseRequest = InferType<typeof responseRequestSchema>

const estimate = () =>
  tuple([figure(), figure(), figure()]).required().meta({ description: 'estimate, low, high (90 %)' })

const rollOn = closed({
  run: id(),
  atS: figure(),
  rpm: figure(),
  fromLoad: figure(),
  toLoad: figure(),
  ratePctS: figure(),
  leanPct: figure().meta({ description: 'peak in the cylinder from where lambda settles, lag and sensor taken out' }),
  richPct: figure(),
  bounded: yesNo()
    .required()
    .meta({ description: 'the peaks are at least these: sensor or log are slower than the event' }),
  areaPctS: figure().meta({ description: 'leaner above zero' }),
  settleS: knownFigure().meta({ description: 'from the first movement of the throttle until within 2 % for good' }),
  settleBetweenS: tuple([figure(), figure()])
    .nullable()
    .defined()
    .meta({ description: 'the earliest and the latest of it that the readings allow (90 %); null with it' }),
  torqueDelayS: knownFigure().meta({ description: 'from there to 90 % of the torque gained' }),
  hesitation: closed({
    kind: choice(['dip', 'plateau']).required(),
    atS: figure(),
    lastsS: figure(),
    depthPct: figure(),
  })
    .nullable()
    .defined(),
})

const group = closed({
  rpm: figure(),
  fromLoad: figure(),
  toLoad: figure(),
  n: count(),
  leanPct: estimate(),
  richPct: estimate(),
  settleS: estimate(),
  advice: closed({
    what: choice(['more', 'less', 'slower', 'quicker', 'none']).required(),
    pct: estimate(),
  }).required(),
  bounded: count(),
})

const exit = closed({
  load: figure(),
  rpm: figure().meta({ description: 'middle of the step' }),
  rpmError: figure().meta({ description: 'half width of its 90 % interval' }),
  stepPct: figure().meta({ description: 'open over closed less 1; negative turns richer' }),
  stepError: figure(),
  widthRpm: figure(),
  torquePct: figure().meta({ description: 'by the usual mixture curve' }),
})

const overrun = closed({
  run: id(),
  atS: figure(),
  cutRpm: figure(),
  backRpm: knownFigure(),
  delayS: knownFigure().meta({ description: 'from the opening to 90 % of settled torque; null where it stayed shut' }),
  jerk: knownFigure().meta({ description: 'steepest rise of torque after fuel is back, N·m per second' }),
})

const gripSchema = closed({
  grip: figures(),
  rpm: figures(),
  plate: sparseMatrix(),
  half: sparseMatrix(),
  gain: sparseMatrix(),
  flags: array()
    .of(
      closed({
        what: choice(['steep', 'ahead of the hand', 'moves by itself']).required(),
        grip: figure(),
        rpm: figure(),
        value: figure(),
        text: words(),
      }).required(),
    )
    .required(),
  follows: figure().meta({ description: 's by which the plate follows the hand' }),
})

const apartSchema = (of: string) =>
  closed({
    maps: array()
      .of(closed({ of: count().meta({ description: of }), grip: gripSchema.required() }).required())
      .required(),
    text: string().strict().defined(),
  }).required()

/** Answer of POST /jobs/:job/response. */
export const responseSchema = closed({
  rollOns: array().of(rollOn.required()).required(),
  groups: array().of(group.required()).required(),
  exits: array().of(exit.required()).required(),
  overrun: array().of(overrun.required()).required(),
  braking: array()
    .of(
      closed({
        rpm: figure(),
        torque: tuple([figure(), knownFigure(), knownFigure()]).required(),
        overruns: count(),
      }).required(),
    )
    .required()
    .meta({ description: 'torque at shut throttle, N·m: mean, low, high' }),
  grip: gripSchema.nullable().defined(),
  byMode: apartSchema('riding mode').meta({ description: 'maps of up to four modes, where two or more were ridden' }),
  byGear: apartSchema('gear').meta({ description: 'maps of each gear, where it matters' }),
  snatch: array()
    .of(
      closed({
        rpm: figure(),
        index: estimate(),
        torque: figure(),
        mixturePct: figure(),
        mixtureHalf: figure(),
        delayS: figure(),
      }).required(),
    )
    .required(),
  gears: closed({
    gears: figures(),
    differencePct: knownFigure(),
    low: knownFigure(),
    high: knownFigure(),
    matters: yesNo().required(),
    text: words(),
  }).required(),
  plan: array()
    .of(
      closed({
        rpm: figure(),
        fromLoad: figure(),
        toLoad: figure(),
        done: count(),
        wanted: count(),
        why: words(),
      }).required(),
    )
    .required(),
  lagMs: figure(),
  lagErrorMs: figure(),
  lagFrom: choice(['openings', 'chops', 'given', 'assumed']).required(),
  modes: figures(),
  mode: knownFigure(),
  notes: array().of(words()).required(),
}).meta({ ref: 'Response' })
export type ResponseAnswer = InferType<typeof responseSchema>

/** Body of POST /jobs/:job/plate. */
export const plateRequestSchema = closed({
  ...asked,
  shape: choice(PLATE_SHAPES).required(),
  share: amount(0.05, 1).meta({ description: 'of full torque, for the shape share' }),
  curve: array()
    .of(tuple([amount(0, 100).required(), amount(0, 100).required()]).required())
    .min(2)
    .max(64)
    .meta({ description: 'for the shape own: [grip %, % of the way from idle stop to full], both rising' }),
  table: id()
    .optional()
    .meta({ description: 'a plate table of the job to start from; the measured map when left out' }),
  reason: text(300).min(1).meta({ description: 'why the first third may be steeper than now' }),
}).meta({ ref: 'PlateRequest' })
export type PlateRequest = InferType<typeof plateRequestSchema>

/** Answer of POST /jobs/:job/plate. */
export const plateSchema = closed({
  table: closed({
    kind: choice(['plate']).required(),
    rpm: figures(),
    load: figures().meta({ description: 'grip, %' }),
    values: matrix(),
  }).required(),
  torque: closed({ grip: figures(), rpm: figures(), before: sparseMatrix(), after: sparseMatrix() }).required(),
  cautions: array().of(words()).required(),
}).meta({ ref: 'MadePlate' })
export type PlateAnswer = InferType<typeof plateSchema>
