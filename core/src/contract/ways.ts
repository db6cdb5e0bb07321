import { array, lazy, mixed, object, string, type InferType, type ObjectSchema, type Schema } from 'yup'
import { AXES } from '../delivery/raster'
import { checkSettings } from '../delivery/checkSettings'
import type { WayTaken } from '../delivery/typedSettings'
import { WAYS, type WayAsked, type WayKind } from '../delivery/ways'
import {
  LOAD_AXES,
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
import { fieldFields } from './field'
import { breakpoints } from './mixture'

const kind = <const Kind extends string>(of: Kind) => choice([of]).required()
const places = () => array().of(amount(0, 30_000).required()).min(1).max(64).optional().default(undefined)
const points = () => amount(2, 24).integer().required()
const table = () => id().optional()
const pressure = () => amount(1, 5000)
const injector = closed({ flow: amount(0.001, 1e6).required(), deadMs: amount(0, 20).required() })

const beside = closed({ rpm: figures(), load: figures(), values: matrix(), cells: count() })
const cells = () => closed({ rpm: figures(), load: figures(), values: matrix() })
/** Numbers of each way. */
export const settingsOf = {
  table: cells(),
  coarse: cells(),
  bands: closed({
    axis: choice(AXES).required(),
    edges: figures(),
    values: figures(),
    crossover: figure(),
    table: beside.optional().default(undefined),
  }),
  strips: closed({ threshold: figure(), rpm: figures(), low: figures(), high: figures() }),
  global: closed({ pct: figure(), table: beside.optional().default(undefined) }),
  pressure: closed({ kPa: figure() }),
  injectors: closed({
    pulseFactor: figure(),
    deadMsChange: figure(),
    dutyPct: matrix().nullable().defined(),
    pulses: matrix().nullable().defined(),
  }),
  filling: closed({
    filling: cells().required(),
    target: cells().nullable().defined().meta({ description: 'commanded lambda; null where it stays' }),
  }),
}
/** Numbers of any way; a whole table's look as a coarse one's. */
const { coarse: _, ...DISTINCT } = settingsOf
const settings = () =>
  object()
    .required()
    .meta({ anyOf: Object.values(DISTINCT) })

/** Numbers of one's own instead of those that are worked out: what they would leave is told. */
const set = <K extends WayKind>(of: K) => settingsOf[of].optional().default(undefined)
const ways = {
  table: closed({ kind: kind('table'), settings: set('table'), table: table() }),
  coarse: closed({
    kind: kind('coarse'),
    settings: set('coarse'),
    rpmPoints: points(),
    loadPoints: points(),
    rpmStep: amount(1, 5000).meta({ description: 'raster of the places; 250 when left out' }),
    loadStep: amount(0.1, 50).meta({ description: '1 when left out' }),
    rpm: places().meta({ description: 'given places; chosen when left out' }),
    load: places(),
  }),
  bands: closed({
    kind: kind('bands'),
    settings: set('bands'),
    axis: choice([...AXES, ...LOAD_AXES]).required(),
    bands: amount(2, 5).integer().required(),
    edges: places().meta({ description: 'one less than bands; chosen when left out' }),
    crossover: amount(0, 10_000).meta({
      description: "width of a straight change centred on each edge, in the axis' unit",
    }),
    table: table().meta({ description: 'table beside them: then the split that needs the fewest of its cells' }),
  }),
  strips: closed({
    kind: kind('strips'),
    settings: set('strips'),
    threshold: amount(0, 400).required(),
    rpm: breakpoints().required(),
  }),
  global: closed({ kind: kind('global'), settings: set('global'), table: table() }),
  pressure: closed({
    kind: kind('pressure'),
    settings: set('pressure'),
    kPa: pressure().required().meta({ description: 'of the rail now' }),
    manifoldKpa: amount(0, 400).meta({ description: 'on the same scale; 0 when left out' }),
    mostKpa: pressure().meta({ description: 'that the pump holds at full flow' }),
  }),
  injectors: closed({
    kind: kind('injectors'),
    settings: set('injectors'),
    table: table().meta({ description: 'fuel base table of pulses in ms' }),
    from: injector.required(),
    to: injector.required(),
    kPaFrom: pressure(),
    kPaTo: pressure(),
  }),
  filling: closed({
    kind: kind('filling'),
    settings: set('filling'),
    table: table().meta({ description: 'table of filling, %; the first of the job when left out' }),
    commanded: id().optional().meta({ description: 'table that commands lambda; the one of the job when left out' }),
    intent: text(40).meta({ description: 'target preset that the commanded lambda is set to; it stays when left out' }),
    equalFrom: amount(0, 400).meta({ description: 'load from which all rows are made one' }),
  }),
}
type WayOf = { [K in keyof typeof ways]: InferType<(typeof ways)[K]> & { kind: K } }
const way = lazy((value: unknown) => {
  const of = String((value as { kind?: unknown } | null)?.kind)
  const known: unknown = Object.hasOwn(ways, of)
    ? ways[of as keyof typeof ways]
    : object({ kind: string().strict().oneOf(WAYS).required() })
  // What is chosen by its value is not missed by itself.
  return (known as ObjectSchema<object>).required() as unknown as Schema<WayOf[keyof typeof ways]>
}).meta({ anyOf: Object.values(ways) })

const request = {
  ...fieldFields,
  cylinder: amount(1, 12).integer().nullable(),
  wanted: closed({
    rpm: breakpoints().required(),
    load: breakpoints().required(),
    loadAxis: choice(LOAD_AXES),
    pct: sparseMatrix().meta({ description: '% of fuel, null where nothing is known' }),
    weight: array()
      .of(array().of(amount(0, 1e6).required()).required())
      .optional()
      .default(undefined)
      .meta({ description: 'how much each cell is used; all alike when left out' }),
  })
    .optional()
    .default(undefined)
    .meta({ description: 'the change itself, which needs no runs; the estimate of the field when left out' }),
}
/** Body of POST /jobs/:job/ways. */
export const waysRequestSchema = closed({ ...request, ways: array().of(way).min(1).max(24).required() }).meta({
  ref: 'WaysRequest',
})
export type WaysRequest = InferType<typeof waysRequestSchema>

const worst = closed({ pct: figure(), rpm: figure(), load: figure() })
const left = closed({
  rmsPct: figure().meta({ description: 'typically off by, between cells, too' }),
  costPct: figure().meta({ description: 'the same with lean counting twice, four times from 70 % load' }),
  worstLean: worst.required().meta({ description: 'below zero where even the leanest place is rich' }),
  worstRich: worst.required(),
  within2Pct: figure().meta({ description: 'share of the use that ends within 2 %, %' }),
})
const point = closed({ axis: choice(AXES).required(), at: figure(), costPct: figure() })

/** Answer of POST /jobs/:job/ways: what each way would leave, in the order asked. */
export const wayToldSchema = closed({
  kind: choice(WAYS).required(),
  settings: settings(),
  left: left.required(),
  residualPct: sparseMatrix().meta({ description: 'what is left by cell of the wanted change, positive lean' }),
  cautions: array().of(words()).required(),
  free: closed({ settings: settings(), left: left.required() })
    .optional()
    .default(undefined)
    .meta({ description: 'without the rule that no cell from 70 % load is left more than 2 % lean' }),
  points: closed({ more: array().of(point.required()).required(), least: point.nullable().defined() })
    .optional()
    .default(undefined)
    .meta({
      description:
        'what one more point of a coarse table would leave, and what the table without the one that does least',
    }),
  minutes: figure().meta({ description: 'by hand, about' }),
}).meta({ ref: 'WayTold' })

/** Body of POST /jobs/:job/ways/take. */
export const takeWaySchema = closed({
  ...request,
  way,
  reason: text(500).min(1),
  override: text(500).min(1).meta({ description: 'why a large step is taken all the same; recorded' }),
}).meta({ ref: 'TakeWay' })
export type TakeWay = InferType<typeof takeWaySchema>

/** Body of POST /jobs/:job/ways/answered. */
export const answeredRequestSchema = closed({
  table: id().meta({ description: 'fuel table whose newest revision is asked about' }),
  lagMs: amount(0, 3000).nullable(),
}).meta({ ref: 'AnsweredRequest' })

const answer = closed({
  expectedPct: figure().meta({ description: 'fuel that was put in, mean of the cells read before and after' }),
  answeredPct: figure().meta({ description: 'fuel that the mixture tells' }),
  lowPct: figure().meta({ description: 'ends of its 90 % interval' }),
  highPct: figure(),
  cells: count(),
})
  .nullable()
  .defined()

/** Answer of POST /jobs/:job/ways/answered: whether the mixture moved as what was put in explains. */
export const answeredSchema = closed({
  kind: choice(WAYS).required(),
  table: id(),
  from: count().meta({ description: 'revisions compared: before' }),
  to: count().meta({ description: 'and after' }),
  verdict: choice(['as explained', 'less', 'less under load', 'more', 'untold']).required(),
  all: answer,
  partLoad: answer,
  fullLoad: answer,
  warmerC: knownFigure().meta({ description: 'coolant after less before, °C' }),
  steadiness: closed({
    beforePct: figure().meta({ description: 'scatter over 0.3 to 2 s without the trend' }),
    afterPct: figure(),
    p: figure().meta({ description: 'chance that scatters of one size lie this far apart (F test)' }),
    isWorse: yesNo().required(),
  })
    .nullable()
    .defined(),
  text: words(),
}).meta({ ref: 'FuelAnswered' })

/** Whether something is a way with numbers that fit it: an archive may hold anything. */
function isWayTaken(value: unknown): boolean {
  const { asked, settings: own, ...rest } = (value ?? {}) as { asked?: { kind?: unknown }; settings?: unknown }
  const of = String(asked?.kind)
  if (Object.keys(rest).length || !Object.hasOwn(ways, of)) return false
  const kind = of as WayKind
  if (!ways[kind].isValidSync(asked, { strict: true })) return false
  if (own === undefined || !settingsOf[kind].isValidSync(own, { strict: true })) return false
  try {
    checkSettings(asked as WayAsked, own as never, 'way.settings')
    return true
  } catch {
    return false
  }
}

/** A way that a revision put in: what it was asked with, and its numbers. */
export const wayTakenSchema = mixed<WayTaken>()
  .test(
    'way',
    ({ path }) => `${path} is no way with numbers that fit it`,
    (value) => value == null || isWayTaken(value),
  )
  .meta({ anyOf: [closed({ asked: way, settings: settings() })] })
