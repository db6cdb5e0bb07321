import { array, lazy, mixed, number, object, string, type InferType, type Schema } from 'yup'
import type { Brake, RigControls } from '../rig/controls'
import type { RigSample } from '../rig/sample'
import type { SafetyLimits } from '../rig/safety'
import type { RunScript } from '../rig/runScript'
import type { ControllerWays } from '../simulator/controllerWays'
import { tableSchema } from './tableJson'
import { settingsOf } from './ways'
import { weatherSchema } from './air'
import { amount, choice, closed, count, figure, id, knownFigure, matrix, text, words, yesNo } from './fields'
import { targetChoiceSchema } from './mixture'

const speed = () => amount(500, 30000).required()
const gear = () => amount(1, 6).integer().required()
const kind = <const Kind extends string>(of: Kind) => choice([of]).required()
const kindOf = (value: unknown): string => String((value as { kind?: unknown } | null)?.kind)

const brakes = {
  off: closed({ kind: kind('off') }),
  hold: closed({ kind: kind('hold'), rpm: speed() }),
  sweep: closed({ kind: kind('sweep'), toRpm: speed(), rate: amount(20, 5000).required() }),
}
const unknownKind = (of: object) => object({ kind: string().strict().oneOf(Object.keys(of)).required() })
const brake = lazy((value: unknown) => {
  const known = brakes[kindOf(value) as keyof typeof brakes] ?? unknownKind(brakes)
  return (value === undefined ? object().optional().default(undefined) : known) as unknown as Schema<Brake | undefined>
}).meta({ anyOf: Object.values(brakes) })

/** Controls of a rig that a driver sets. */
export const controlsSchema = closed({
  throttle: amount(0, 100),
  brake,
  gear: amount(0, 6).integer(),
  fan: yesNo(),
  ignition: yesNo(),
  fuel: yesNo(),
  sparkOffset: amount(-20, 20),
  fuelOffset: amount(-30, 40),
  mode: amount(0, 3).integer().meta({ description: 'riding mode, from 0' }),
}).meta({ ref: 'RigControls' })

const stop = () => amount(1, 100).required()
const seconds = () => amount(0.5, 120).required()
const stepped = <const Kind extends string>(of: Kind) =>
  closed({
    kind: kind(of),
    stop: stop(),
    rpm: speed(),
    offsets: array().of(amount(-30, 40).required()).min(1).max(40).required(),
    seconds: seconds(),
    gear: gear(),
  })
const scripts = {
  'warm-up': closed({ kind: kind('warm-up'), coolantC: amount(30, 110).required() }),
  sweep: closed({
    kind: kind('sweep'),
    stop: stop(),
    fromRpm: speed(),
    toRpm: speed(),
    rate: amount(50, 3000).required(),
    gear: gear(),
    sparkOffset: amount(-20, 20),
  }),
  hold: closed({ kind: kind('hold'), stop: stop(), rpm: speed(), seconds: seconds(), gear: gear() }),
  'roll-on': closed({
    kind: kind('roll-on'),
    fromRpm: speed(),
    fromStop: stop(),
    stop: stop(),
    seconds: seconds(),
    gear: gear(),
  }),
  overrun: closed({
    kind: kind('overrun'),
    fromRpm: speed(),
    stop: stop(),
    shutSeconds: amount(0.3, 10).required(),
    seconds: seconds(),
    gear: gear(),
  }),
  'spark step': stepped('spark step'),
  'mixture step': stepped('mixture step'),
}

/** A run that the rig makes by itself. */
export const scriptSchema = lazy(
  (value: unknown) =>
    (scripts[kindOf(value) as keyof typeof scripts] ?? unknownKind(scripts)) as unknown as Schema<RunScript>,
).meta({ anyOf: Object.values(scripts) })

/** What stops a run by itself, as a driver may set it. */
const limitsSchema = closed({
  lean: amount(1, 1.3),
  leanBoosted: amount(1, 1.2),
  load: amount(10, 100),
  coolantC: amount(60, 140),
  rpm: amount(2000, 30000),
  knock: amount(0.5, 20),
}).meta({ ref: 'SafetyLimits' })

/** Body of PATCH /jobs/:job/bench/faults: what a simulated rig can be made to suffer. */
export const benchFaultsSchema = closed({
  lowBattery: amount(0, 6).meta({ description: 'V taken off' }),
  dropDuringWrite: yesNo(),
  silent: yesNo(),
}).meta({ ref: 'BenchFaults' })

export type BenchFaults = InferType<typeof benchFaultsSchema>

/** Body of a write to the bench. */
export const benchWriteSchema = closed({
  values: matrix(),
  override: text(500).min(1).meta({ description: 'why a large step is taken at once; recorded' }),
}).meta({ ref: 'BenchWrite' })

/** Body of an act at the bench that may want a reason. */
export const reasonedSchema = closed({
  override: text(500).min(1).meta({ description: 'why what can hurt is done all the same, this once; recorded' }),
}).meta({ ref: 'Reasoned' })

/** Steps in which a rig's sensors are calibrated. */
const CALIBRATION_STEPS = ['closed', 'open', 'free-air'] as const
export type CalibrationStep = (typeof CALIBRATION_STEPS)[number]

const stateOfScript = closed({
  phase: choice(['starting', 'settling', 'running', 'ending', 'done']).required(),
  share: figure(),
  recording: yesNo().required(),
  note: words(),
})
const newsFields = {
  script: closed({ name: words(), state: stateOfScript.required() }).nullable().defined(),
  recording: yesNo().required(),
  unstored: count().meta({ description: 'runs that could not be stored: kept at the bench until they are' }),
  stopped: yesNo().required().meta({ description: 'the last run was stopped before its end' }),
  driver: words().nullable().meta({ description: 'who drives; null when nobody does' }),
  said: words().meta({ description: 'last thing that happened, in words' }),
  runs: count(),
  limits: closed({
    lean: figure(),
    leanBoosted: figure(),
    load: figure(),
    coolantC: figure(),
    rpm: figure(),
    knock: figure(),
  }).required(),
  aim: closed({ target: targetChoiceSchema.required(), isBoosted: yesNo().required() })
    .required()
    .meta({ description: 'what lean is told against' }),
  calibrated: closed({ throttle: yesNo().required(), wideband: yesNo().required() }).required(),
}

/** What watchers of a bench hear beside the readings. */
const benchNewsSchema = closed(newsFields).meta({ ref: 'BenchNews' })

export type BenchNews = InferType<typeof benchNewsSchema>

const controllerTable = closed({
  id: id(),
  name: words(),
  cylinder: knownFigure(),
  table: tableSchema.required(),
})

/** Settings of a controller beside its tables. */
export const controllerWays = closed({
  coarse: settingsOf.coarse.required(),
  bands: settingsOf.bands.required(),
  strips: settingsOf.strips.required(),
  global: settingsOf.global.required(),
  pressure: settingsOf.pressure.required(),
})
/** Body of POST /jobs/:job/bench/ways/:kind. */
export const benchWaySchema = closed({
  settings: object()
    .required()
    .meta({ anyOf: Object.values(controllerWays.fields) as never }),
  override: text(500).min(1).meta({ description: 'why a large step is taken at once; recorded' }),
}).meta({ ref: 'BenchWay' })
/** Checks settings of one kind. */
export const benchWayOf = (kind: keyof ControllerWays) => settingsOf[kind]

/** Answer of GET /jobs/:job/bench. */
export const benchStateSchema = closed({
  id: id(),
  name: words(),
  readsOnly: yesNo()
    .required()
    .meta({ description: 'it is read and never set: nothing is driven, nothing is written' }),
  lines: closed({
    source: words(200).meta({ description: 'where they come from, as it was typed' }),
    baud: knownFigure(),
    columns: array()
      .of(closed({ header: words(200), channel: words(40).nullable(), unit: words(40) }).required())
      .required(),
    said: words(400).meta({ description: 'what is wrong with the link; empty while it is well' }),
    strange: count().meta({ description: 'lines that told nothing' }),
  })
    .nullable()
    .defined()
    .meta({ description: 'of a source of live lines: what its columns are taken for' }),
  cylinders: count(),
  redline: figure(),
  weather: weatherSchema.nullable().defined(),
  controller: closed({
    readable: yesNo().required(),
    unkept: array().of(id()).required(),
    changed: yesNo().required(),
  }).required(),
  sensors: closed({
    calibration: closed({ closedVolts: knownFigure(), openVolts: knownFigure(), freeAirPct: knownFigure() }).required(),
    throttleVolts: figure(),
    freeAirPct: knownFigure(),
  }).required(),
  tables: array().of(controllerTable.required()).required(),
  ways: controllerWays
    .nullable()
    .defined()
    .meta({ description: 'settings beside its tables; null while it does not answer' }),
  news: benchNewsSchema.required(),
}).meta({ ref: 'Bench' })

export type BenchState = InferType<typeof benchStateSchema>

/** Machines that the simulated rig can put on its drum. */
export const benchMachineSchema = closed({ id: id(), name: words(), cylinders: count() }).meta({ ref: 'BenchMachine' })

const why = () => text(500).min(1).meta({ description: 'why what can hurt is done all the same; recorded' })
const act = <const Act extends string>(of: Act) => choice([of]).required()
const wishes = {
  drive: closed({ act: act('drive') }),
  'let go': closed({ act: act('let go') }),
  set: closed({ act: act('set'), controls: controlsSchema.required(), override: why() }),
  run: closed({ act: act('run'), script: scriptSchema, name: text(160), override: why() }),
  limits: closed({ act: act('limits'), limits: limitsSchema.required(), override: why() }),
  record: closed({ act: act('record'), override: why() }),
  stop: closed({ act: act('stop') }),
  'store again': closed({ act: act('store again') }),
}

/** What a client of the bench's stream may say. */
export const benchWishSchema = lazy((value: unknown) => {
  const { act: known } = (value ?? {}) as { act?: unknown }
  const schema = wishes[String(known) as keyof typeof wishes]
  return (schema ?? object({ act: choice(Object.keys(wishes)).required() })) as unknown as Schema<BenchWish>
}).meta({ ref: 'BenchWish', anyOf: Object.values(wishes) })

export type BenchWish =
  | { act: 'drive' | 'let go' | 'stop' | 'store again' }
  | { act: 'record'; override?: string }
  | { act: 'set'; controls: Partial<RigControls>; override?: string }
  | { act: 'run'; script: RunScript; name?: string; override?: string }
  | { act: 'limits'; limits: Partial<SafetyLimits>; override?: string }

const sampleSchema = closed({
  time: figure(),
  rpm: knownFigure().meta({ description: 'null, as all below, where it is not told' }),
  throttle: knownFigure(),
  lambda: array().of(knownFigure()).required(),
  torque: knownFigure(),
  drum: knownFigure(),
  coolant: knownFigure(),
  intake: knownFigure(),
  battery: knownFigure(),
  knock: knownFigure(),
  trimShort: knownFigure(),
  spark: knownFigure(),
  manifold: number().strict(),
  commanded: number().strict().meta({ description: 'lambda that the controller aims at, where it tells' }),
  grip: number().strict().meta({ description: 'the hand in %, where a motor moves the plate' }),
  mode: number().strict().meta({ description: 'riding mode, from 0' }),
  others: mixed<Record<string, number>>().meta({
    json: {
      type: 'object',
      description: 'what else a source of lines tells, by channel',
      additionalProperties: { type: ['number', 'null'] },
    },
  }),
}).meta({ ref: 'RigSample' })

/** What the bench's stream says. */
export const benchMessageSchema = closed({
  hello: closed({
    name: words(),
    cylinders: count(),
    redline: figure(),
    you: id().meta({ description: 'who you are here; acts over HTTP while you drive say it in the header X-Driver' }),
  })
    .optional()
    .default(undefined)
    .meta({ description: 'once' }),
  sample: sampleSchema.optional().default(undefined),
  samples: array()
    .of(sampleSchema.required())
    .meta({ description: 'instead of sample, where ?together=ms was asked: readings of that time, in their order' }),
  left: number().strict().integer().meta({ description: 'readings left out for a slow watcher' }),
  news: closed({ ...newsFields, you: yesNo().required().meta({ description: 'it is you who drives' }) })
    .optional()
    .default(undefined),
  controls: mixed<RigControls>().meta({ json: { $ref: 'RigControls' } }),
  refused: string().strict().meta({ description: 'why a wish was not done' }),
  asks: mixed<BenchWish>().meta({
    json: { $ref: 'BenchWish' },
    description: 'the wish that was refused, where it would be done for a reason: say it again with override',
  }),
}).meta({ ref: 'BenchMessage' })

export type BenchMessage = Omit<InferType<typeof benchMessageSchema>, 'sample' | 'samples'> & {
  sample?: RigSample | undefined
  samples?: RigSample[] | undefined
}
