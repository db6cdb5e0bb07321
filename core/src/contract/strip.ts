import { array, mixed, type InferType } from 'yup'
import { someWeather, weatherSchema } from './air'
import { amount, choice, closed, count, figure, id, knownFigure, text, time, words, yesNo } from './fields'
import type { StripSplit } from '../strip/marks'

const distanceM = () => amount(1, 2000)
const splitSchema = closed({
  distanceM: distanceM().required(),
  timeS: amount(0.1, 120).required().meta({ description: 's from when the clock started, reaction left out' }),
  speedKmh: amount(1, 500).nullable().optional().default(undefined).meta({ description: 'over the trap before it' }),
}).meta({ ref: 'StripSplit' })

/** Times of a slip that are none: those that do not rise with the distance. */
const areRising = (splits: readonly Partial<StripSplit>[] | undefined): boolean =>
  !splits ||
  splits.every(
    (one, k) => k === 0 || (one.distanceM! > splits[k - 1]!.distanceM! && one.timeS! > splits[k - 1]!.timeS!),
  )

const rules = {
  rolloutM: amount(0, 1).meta({ description: 'm rolled before the clock starts; 0.3048 when left out' }),
  trapM: amount(1, 100).meta({ description: 'm before a mark over which its speed is taken; 20.1168 when left out' }),
  endM: distanceM().meta({ description: 'where a pass ends; 402.336 when left out' }),
}
const facts = {
  name: text(120).min(1),
  set: id().optional().meta({ description: 'the state of the machine; that of its run, or the newest, when left out' }),
  reactionS: amount(-5, 30).nullable().meta({ description: 'kept, and part of no time' }),
  weather: someWeather().meta({ description: 'of the pass itself; that of its set when left out' }),
  note: text(400),
}

/** Body of POST /jobs/:job/passes: a run, whose passes are found, or a slip as it was handed out. */
export const newPassSchema = closed({
  run: id().optional(),
  ...rules,
  splits: array()
    .of(splitSchema.required())
    .min(1)
    .max(12)
    .optional()
    .test('rising', ({ path }) => `${path}: distances and times must rise from one to the next`, areRising),
  lifted: yesNo(),
  ...facts,
})
  .test('which', 'name a run, or give the splits of a slip, and not both', (value) =>
    value === undefined || value === null ? true : (value.run === undefined) !== (value.splits === undefined),
  )
  .meta({ ref: 'NewPass' })
export type NewPass = InferType<typeof newPassSchema>

/** Body of PATCH /jobs/:job/passes/:pass. */
export const passChangeSchema = closed({ ...facts, lifted: yesNo() }).meta({ ref: 'PassChange' })
export type PassChange = InferType<typeof passChangeSchema>

const keptSplit = closed({
  distanceM: figure(),
  timeS: figure(),
  speedKmh: knownFigure(),
}).meta({ ref: 'PassSplit' })

const stored = {
  name: words(160),
  set: words(80).nullable(),
  run: words(120).nullable().meta({ description: 'the run it was found in; null for a slip' }),
  from: knownFigure().meta({ description: 's of the run at which it began to move' }),
  to: knownFigure(),
  lifted: yesNo().required(),
  liftedAtM: knownFigure().meta({ description: 'm from where it stood; marks behind it are not compared' }),
  splits: array().of(keptSplit.required()).required(),
  rolloutM: figure(),
  trapM: figure(),
  endM: figure(),
  reactionS: knownFigure(),
  weather: weatherSchema.nullable().defined(),
  note: words(400),
}
/** A pass as it is kept, and as it travels in an archive. */
export const keptPassSchema = closed({ id: id(), at: time().required(), ...stored }).meta({ ref: 'KeptPass' })
export type KeptPass = InferType<typeof keptPassSchema>

const differenceSchema = closed({ difference: figure(), low: knownFigure(), high: knownFigure() }).meta({
  ref: 'StripDifference',
})
const gearSchema = closed({
  gear: count(),
  fromS: figure(),
  toS: figure(),
  spinPct: knownFigure().meta({ description: 'engine against road beyond what grips, tyre or clutch' }),
  lambda: knownFigure(),
  low: knownFigure(),
  high: knownFigure(),
  wantedPct: knownFigure().meta({ description: '% of fuel it wants, positive lean' }),
}).meta({ ref: 'PassGear' })

/** A pass at the strip: a card. */
export const passSchema = closed({
  id: id(),
  at: time().required(),
  ...stored,
  density: knownFigure().meta({ description: 'kg/m³' }),
  densityAltitudeM: knownFigure(),
  gears: array().of(gearSchema.required()).required().meta({ description: 'empty for a slip' }),
}).meta({ ref: 'Pass' })
export type Pass = InferType<typeof passSchema>

const passesMadeSchema = closed({ passes: array().of(passSchema.required()).min(1).required() }).meta({
  ref: 'PassesMade',
})
export type PassesMade = InferType<typeof passesMadeSchema>
/** Answer of POST /jobs/:job/passes: one pass, or those of a log that held several. */
export const passesAddedSchema = mixed<Pass | PassesMade>()
  .required()
  .meta({ anyOf: [passSchema, passesMadeSchema] })
export type PassGear = InferType<typeof gearSchema>

const nextSchema = closed({
  kind: choice(['fuel', 'jet', 'back', 'read', 'keep', 'again']).required(),
  said: words(600),
  pct: differenceSchema.nullable().defined(),
  from: knownFigure().meta({ description: 'main jet' }),
  to: knownFigure(),
  passes: knownFigure(),
}).meta({ ref: 'StripNext' })

/** Answer of GET /jobs/:job/strip: what passes of one state did against the state before. */
export const stripDaySchema = closed({
  confidence: figure(),
  states: array()
    .of(
      closed({
        set: words(80).nullable(),
        name: words(160),
        main: knownFigure(),
        passes: count(),
        wantedPct: differenceSchema.nullable().defined(),
      }).required(),
    )
    .required(),
  against: array()
    .of(
      closed({
        first: words(160),
        second: words(160),
        said: words(600),
        verdict: choice(['power', 'quicker', 'traction', 'both', 'apart', 'equal', 'unknown']).required(),
        powerPct: differenceSchema.nullable().defined(),
        atLikeAir: yesNo().required(),
        tractionS: differenceSchema.nullable().defined(),
        marks: array()
          .of(
            closed({
              distanceM: figure(),
              timeS: differenceSchema.required(),
              speedKmh: differenceSchema.nullable().defined(),
            }).required(),
          )
          .required(),
      }).required(),
    )
    .required(),
  next: nextSchema.nullable().defined(),
  caution: words(600),
}).meta({ ref: 'StripDay' })
export type StripDay = InferType<typeof stripDaySchema>
