import { lazy, number, object, type InferType, type Schema } from 'yup'
import type { Mapping } from '../log/recognise'
import { SIMULATED_MACHINES } from '../simulator/machinesById'
import { weatherSchema } from './air'
import { amount, choice, closed, text } from './fields'
import { mappingSchema } from './run'

/** Times as fast as the clock. */
export const rigSpeed = () => number<1 | 4>().strict().oneOf([1, 4])

/** A simulated rig, chosen. */
const simulatedSchema = closed({
  maker: choice(['simulated']).required(),
  machine: choice(SIMULATED_MACHINES.map((one) => one.id)).required(),
  seed: amount(1, 1e9).integer(),
  speed: rigSpeed(),
  coolantC: amount(0, 100),
  weather: weatherSchema.optional().default(undefined),
  override: text(500).min(1).meta({ description: 'why what was written and not kept may go' }),
}).meta({ ref: 'SimulatedChoice' })

/** A source of live lines, chosen: it is read, and never set. */
const linesSchema = closed({
  maker: choice(['lines']).required(),
  source: text(200)
    .min(1)
    .required()
    .meta({ description: 'host:port for lines over TCP, or a serial port such as /dev/ttyUSB0 or COM3' }),
  baud: amount(300, 4_000_000).integer().meta({ description: 'of a serial port; 115200 when left out' }),
  mapping: mappingSchema.optional().meta({ description: 'what its columns are, by header; remembered' }),
  override: text(500).min(1).meta({ description: 'why what was written and not kept may go' }),
}).meta({ ref: 'LinesChoice' })
export type SimulatedChoice = InferType<typeof simulatedSchema>
export type LinesChoice = Omit<InferType<typeof linesSchema>, 'mapping'> & { mapping?: Mapping | undefined }

const makers = { simulated: simulatedSchema, lines: linesSchema }
/** Body of PUT /jobs/:job/bench. */
export const benchSchema = lazy((value: unknown) => {
  const { maker } = (value ?? {}) as { maker?: unknown }
  const schema = makers[String(maker) as keyof typeof makers]
  return (schema ?? object({ maker: choice(Object.keys(makers)).required() })) as unknown as Schema<BenchChoice>
}).meta({ ref: 'BenchChoice', anyOf: Object.values(makers) })

export type BenchChoice = SimulatedChoice | LinesChoice
