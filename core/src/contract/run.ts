import { inputRefused, isRefusal } from '../refusal/refusal'
import { array, boolean, mixed, number, object, string, type InferType } from 'yup'
import type { Mapping } from '../log/recognise'
import { channelKind } from '../run/channels'
import { SENSOR_PLACES } from '../run/run'
import type { RunInfo } from '../run/runInfo'
import { RUN_KINDS } from '../run/runKind'
import {
  amount,
  choice,
  closed,
  count,
  figure,
  id,
  knownFigure,
  LOAD_AXES,
  speed,
  text,
  time,
  words,
  yesNo,
} from './fields'
import { weatherSchema } from './air'
import { checkInput } from './checkInput'
import { settingSchema } from './spark'
import { keptStretchSchema } from './stretch'

/** One column of a run. */
export const channelSchema = closed({
  channel: string()
    .strict()
    .required()
    .test(
      'known',
      ({ path }) => `${path} is no channel`,
      (value) => Boolean(channelKind(value)),
    ),
  unit: words(40),
  count: count(),
  min: figure(),
  max: figure(),
  header: text(200).meta({
    description: 'of a column that is only kept (other1 ...), or was guessed: its name in the file',
  }),
  guessed: yesNo().meta({ description: 'true where its values alone told what it is' }),
})

/** A channel that a run can have. */
export const knownChannelSchema = closed({
  channel: id(),
  title: words(80),
  unit: words(40).meta({ description: 'that it is stored and answered in' }),
  units: array().of(words(40)).required().meta({ description: 'that a column of it may come in' }),
}).meta({ ref: 'KnownChannel' })

const areDistinct = (list: readonly unknown[] | undefined): boolean => new Set(list).size === (list?.length ?? 0)

/** Body of POST /jobs/:job/columns. Nothing is asked for twice, or an answer could be made as large as one likes. */
export const columnsRequestSchema = closed({
  runs: array()
    .of(
      closed({
        run: id().required(),
        channels: array()
          .of(words(40))
          .min(1)
          .max(60)
          .required()
          .test('once', ({ path }) => `${path} name a channel twice`, areDistinct),
      }).required(),
    )
    .min(1)
    .max(500)
    .required()
    .test(
      'once',
      ({ path }) => `${path} name a run twice`,
      (list) => areDistinct(list?.map(({ run }) => run)),
    ),
}).meta({ ref: 'ColumnsRequest' })

const sweepFacts = {
  stop: knownFigure().meta({ description: 'throttle in %' }),
  fromRpm: figure(),
  toRpm: figure(),
  seconds: figure(),
  settled: number().strict().nullable().meta({ description: 'settled, valid readings among its first rows' }),
  settledFromRpm: number().strict().nullable().meta({ description: 'span of engine speed of those readings' }),
  settledToRpm: number().strict().nullable(),
}

/** What a run is, as far as its columns tell. */
const runFactsSchema = closed({
  ...sweepFacts,
  gear: knownFigure(),
  ratio: knownFigure().meta({ description: 'engine turns per turn of the drum' }),
  weather: weatherSchema.nullable().defined(),
  coolantFrom: knownFigure(),
  coolantTo: knownFigure(),
  spark: number().strict().nullable().meta({ description: 'mean advance at that throttle in degrees' }),
  modes: array()
    .of(number().strict().required())
    .meta({ description: 'riding modes of its mode column; absent without one' }),
  sweeps: array()
    .of(
      closed({
        ...sweepFacts,
        kind: choice(['hold', 'roll-on']).meta({ description: 'of a part that is no sweep' }),
      }).required(),
    )
    .meta({
      description:
        'the sweeps inside it, where there are two or more, and of a ride its holds and roll-ons; absent where nobody looked',
    }),
  rounds: array()
    .of(closed(sweepFacts).required())
    .meta({ description: 'of hand readings: openings read over several speeds, a round each' }),
}).meta({ ref: 'RunFacts', about: 'what a run is, as far as its columns tell' })

/** What somebody decided to leave out of a run, and why. Without a span the whole run is left out. */
export const leftOutSchema = closed({
  fromRpm: speed().nullable().defined(),
  toRpm: speed().nullable().defined(),
  reason: text(300).min(1).required(),
})
  .test(
    'span',
    'needs both ends of the span, the lower first, or none',
    (value) =>
      value === null ||
      value === undefined ||
      (value.fromRpm === null && value.toRpm === null) ||
      (value.fromRpm !== null && value.toRpm !== null && value.fromRpm! < value.toRpm!),
  )
  .nullable()
  .optional()
  .default(undefined)
  .meta({ ref: 'LeftOut', about: 'what somebody left out of a run; both ends null leave out the whole of it' })

/** Parts of a run that somebody left out by time. */
const withoutSchema = array()
  .of(
    closed({ from: figure(), to: figure(), reason: text(300).min(1).required() })
      .test('span', '${path} must end after it begins', (one) => !one || one.to! > one.from!)
      .required(),
  )
  .max(200)
  .nullable()
  .optional()
  .default(undefined)
  .meta({
    description: 'parts of the run that are left out, s of the run, and why; a crop leaves out what lies around it',
  })

/** How the columns of a run are read, where what was logged is not what was. */
export const readAsSchema = closed({
  speed: amount(0.1, 10).meta({ description: 'engine speed times this' }),
  time: amount(0.01, 100).meta({ description: 'seconds times this' }),
  throttle: closed({ shut: amount(-50, 90).required(), open: amount(5, 200).required() })
    .test('span', '${path} must be further open than shut, by 10 % at the least', (value) => isOpening(value))
    .optional()
    .default(undefined)
    .meta({ description: 'what it read when shut and when fully open, %' }),
  exchanged: yesNo().meta({ description: 'probe 1 stands for 2, and 2 for 1' }),
})
  .nullable()
  .optional()
  .default(undefined)
  .meta({ ref: 'ReadAs', about: 'how the columns of a run are read; what was stored stays as it was' })

function isOpening(value: { shut?: number | undefined; open?: number | undefined } | undefined): boolean {
  return value === undefined || value.open! - value.shut! >= 10
}

/** Body of POST /jobs/:job/read-as. */
export const readAsRequestSchema = closed({
  runs: array().of(id().required()).min(1).max(2000).required(),
  readAs: readAsSchema.defined(),
}).meta({ ref: 'ReadAsRequest' })

/** Revision by table (its id, or its place in an archive) that was in force while a run was made. */
export const madeOnSchema = mixed<Record<string, number>>(isRevisions).meta({
  ref: 'MadeOn',
  json: {
    type: 'object',
    description: 'revision by table that was in force while the run was made',
    additionalProperties: { type: 'integer', minimum: 1 },
  },
})

function isRevisions(value: unknown): value is Record<string, number> {
  const isObject = typeof value === 'object' && value !== null && !Array.isArray(value)
  return isObject && Object.values(value).every((n: unknown) => Number.isInteger(n) && (n as number) > 0)
}

const runKind = () => choice(RUN_KINDS).meta({ ref: 'RunKind' })

/** What is said of a run beside its columns; the store, the archive and the answers hold all of it. */
export const runFields = {
  name: text(160).required(),
  kind: runKind().required(),
  samples: count(),
  duration: figure().meta({ description: 's' }),
  warnings: array().of(words(2000)).required(),
  gaugeScale: knownFigure().meta({
    description: 'AFR at lambda 1 of the gauge, where the log held AFR; null for lambda',
  }),
  leftOut: leftOutSchema.defined(),
  without: withoutSchema.defined(),
  stretches: array()
    .of(keptStretchSchema.required())
    .max(20_000)
    .nullable()
    .defined()
    .meta({ description: 'made by hand; null for those that its columns show' }),
  readAs: readAsSchema.defined(),
  setting: settingSchema.defined(),
  revisions: madeOnSchema.required(),
  createdAt: time().required(),
}

/** Those of a run's members that are said of it, and no others. */
export function runFieldsOf(run: RunInfo): Pick<RunInfo, keyof typeof runFields> {
  const names = Object.keys(runFields) as (keyof typeof runFields)[]
  return Object.fromEntries(names.map((name) => [name, run[name]])) as Pick<RunInfo, keyof typeof runFields>
}

/** One recording. */
export const runSchema = closed({
  id: id(),
  job: id(),
  ...runFields,
  channels: array().of(channelSchema.required()).required(),
  set: id(),
  sensorPlace: choice(SENSOR_PLACES).nullable().defined().meta({ description: 'of its set' }),
  facts: runFactsSchema.nullable().defined(),
  part: closed({ of: id(), from: figure(), to: figure() })
    .optional()
    .default(undefined)
    .meta({ description: 'of a stretch: the run that it is a part of, and where, s' }),
}).meta({ ref: 'Run' })

/** Runs of a file that held several logs or recordings. */
const runsAddedSchema = closed({
  runs: array().of(runSchema.required()).min(1).required(),
  refused: array()
    .of(closed({ file: words(200), detail: words(4000) }).required())
    .required()
    .meta({ description: 'logs inside that were not added, and why' }),
}).meta({ ref: 'RunsAdded' })
export type RunsAdded = InferType<typeof runsAddedSchema>

/** Answer of POST /jobs/:job/runs: one run, or those of a file that held several. */
export const addedSchema = mixed<RunInfo | RunsAdded>()
  .required()
  .meta({ anyOf: [runSchema, runsAddedSchema] })

/** A schema and the type it stands for say the same. */
type Same<A, B> = [A, B] extends [B, A] ? true : never
const _isSame: Same<InferType<typeof runSchema>, RunInfo> = true

/** Body of PATCH /jobs/:job/runs/:run. */
export const runChangeSchema = closed({
  name: text(160).min(1),
  kind: runKind(),
  gaugeScale: amount(4, 20),
  setting: settingSchema,
  revisions: madeOnSchema,
  override: text(500).min(1).meta({
    description: 'how it is known that the run was made on a revision younger than itself; recorded',
  }),
  set: string().strict(),
  leftOut: leftOutSchema,
  without: withoutSchema,
  removed: yesNo().meta({ description: 'true takes it out, false puts it back' }),
}).meta({ ref: 'RunChange' })

/** Body of PATCH /jobs/:job/runs: one change of several runs, as one act. */
export const runsChangeSchema = closed({
  runs: array()
    .of(id().required())
    .min(1)
    .max(500)
    .required()
    .test('once', ({ path }) => `${path} name a run twice`, areDistinct)
    .meta({ description: 'in the order in which they are numbered' }),
  name: text(150)
    .min(1)
    .meta({ description: 'name of all of them; # stands for 1, 2, 3, and is put behind where it is left out' }),
  kind: runKind(),
  revisions: madeOnSchema,
  override: text(500).min(1).meta({
    description: 'how it is known that they were made on a revision younger than themselves; recorded',
  }),
  set: string().strict(),
  leftOut: leftOutSchema,
  removed: yesNo().meta({ description: 'true takes them out, false puts them back' }),
}).meta({ ref: 'RunsChange' })

export type RunsChange = InferType<typeof runsChangeSchema>

/** Body of POST /jobs/:job/made-on: the state of a table that all runs were made on of which it could not be told. */
export const madeOnAnswerSchema = closed({
  table: id(),
  revision: amount(1, 1e6).integer().required(),
}).meta({ ref: 'MadeOnAnswer' })

export type RunChange = InferType<typeof runChangeSchema>

/** Body of POST /jobs/:job/hand-readings. */
export const handReadingsSchema = closed({
  name: text(160).min(1),
  set: string().strict(),
  loadAxis: choice(LOAD_AXES),
  gaugeScale: amount(4, 20).meta({
    description: 'AFR the gauge shows at lambda 1, where it differs from that of the job',
  }),
  readings: array()
    .of(
      closed({
        rpm: figure(),
        load: figure().meta({ description: '% of plate, or kPa' }),
        readings: array()
          .of(string().strict().defined().max(40))
          .min(1)
          .max(4)
          .required()
          .meta({ description: 'by bank: 13.1, 13.1-13.3, 0.91, or empty' }),
        exhaustC: array()
          .of(amount(0, 1300).nullable().optional().default(undefined))
          .max(4)
          .optional()
          .default(undefined)
          .meta({ description: '°C of exhaust gas by bank' }),
      }).required(),
    )
    .min(1)
    .max(1000)
    .required(),
}).meta({ ref: 'HandReadings' })

export type HandRequest = InferType<typeof handReadingsSchema>

const columnMapping = closed({ channel: id(), unit: string().strict().defined(), guessed: yesNo() }).nullable()

/** Header to channel and unit, or null to leave a column out. */
export const mappingSchema = mixed((value): value is object => typeof value === 'object').meta({
  ref: 'Mapping',
  json: {
    type: 'object',
    description: 'header to {channel, unit}, or null to leave a column out',
    additionalProperties: {
      type: ['object', 'null'],
      required: ['channel', 'unit'],
      properties: { channel: { type: 'string' }, unit: { type: 'string' } },
    },
  },
})

/**
 * Checks the `mapping` part of an upload: header to channel and unit, or null to leave a column out.
 *
 * @throws Refusal 'input-refused' naming the header
 */
export function checkMapping(raw: unknown): Mapping {
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw)) {
    throw inputRefused([{ field: 'mapping', message: 'must be an object from header to {channel, unit} or null' }])
  }
  const entries = Object.entries(raw).map(([header, value]) => {
    try {
      return [header, checkInput(columnMapping, value)] as const
    } catch (error) {
      if (!isRefusal(error, 'input-refused')) throw error
      throw inputRefused(
        error.faults.map((fault) => ({ field: `mapping["${header}"].${fault.field}`, message: fault.message })),
      )
    }
  })
  return Object.fromEntries(entries)
}

/**
 * Checks the `setting` part of an upload.
 *
 * @throws Refusal 'input-refused' naming the member
 */
export function checkSetting(raw: unknown): RunInfo['setting'] {
  return checkInput(object({ setting: settingSchema }), { setting: raw }).setting ?? null
}

const typed = () => number().transform((_, text) => Number(text))

/** Text parts beside the file of POST /jobs/:job/runs. */
export const uploadSchema = object({
  name: string().trim().max(160),
  kind: runKind(),
  set: string().strict().max(80).meta({ description: 'set it goes to; the newest when left out' }),
  mapping: string().strict().meta({ description: 'JSON: header to {channel, unit}, or null to leave a column out' }),
  setting: string().strict().meta({
    description: 'JSON: {advance, knock}, one setting of the spark that the whole run was made at, as somebody said it',
  }),
  sampleRateHz: typed()
    .moreThan(0)
    .max(10000)
    .meta({ description: 'samples per second, where the log has no time column' }),
  gaugeScale: typed()
    .min(4)
    .max(20)
    .meta({ description: 'AFR the gauge shows at lambda 1; that of the job when left out' }),
  again: boolean()
    .transform((_, text) => text === 'true')
    .meta({ description: 'true adds a file that is already in the job' }),
})
