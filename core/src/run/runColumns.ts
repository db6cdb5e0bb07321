import { alignChannels } from './alignChannels'
import type { RunColumns } from './run'
import { readChannelAs } from './readAs'
import { withoutOutliers } from './outliers'
import { withoutSpans } from './leftOutByTime'
import { cropped } from './partOfRun'
import type { RunInfo } from './runInfo'

const NAMED = [
  'throttle',
  'manifold',
  'coolant',
  'trimShort',
  'trimLong',
  'handRange',
  'torque',
  'power',
  'drum',
  'spark',
  'knock',
  'commanded',
  'grip',
  'mode',
  'gear',
] as const
const LAMBDAS = ['lambda1', 'lambda2', 'lambda3', 'lambda4']
const ALWAYS = ['time', 'rpm', ...LAMBDAS]
/** What a computation takes of a run: the mixture field, curves and comparisons, advance from torque, or the answer to the hand. */
export type ColumnPurpose = 'field' | 'curves' | 'spark' | 'response' | 'beside'
const NUMBERS = [1, 2, 3, 4]
/** What is read beside the mixture, each with a limit of its own. */
const BESIDE: readonly string[] = [
  ...NUMBERS.map((n) => `exhaust${n}`),
  ...NUMBERS.map((n) => `duty${n}`),
  'head',
  'oil',
]
const SPARK_ONLY: readonly string[] = ['spark', 'knock']
const RESPONSE_ONLY: readonly string[] = ['grip', 'mode', 'gear']
const FIELD_ONLY: readonly string[] = ['commanded']
const TAKES: Record<ColumnPurpose, readonly string[]> = {
  field: ['throttle', 'manifold', 'coolant', 'trimShort', 'trimLong', 'handRange', 'torque', 'power', ...FIELD_ONLY],
  curves: NAMED.filter((channel) => ![...SPARK_ONLY, ...RESPONSE_ONLY, ...FIELD_ONLY].includes(channel)),
  spark: NAMED.filter((channel) => ![...RESPONSE_ONLY, ...FIELD_ONLY].includes(channel)),
  response: NAMED,
  beside: ['throttle', 'manifold', 'coolant', 'handRange', ...BESIDE],
}

/** Names of a run's channels that a computation needs, in the run's order. */
export function channelsFor(run: RunInfo, purpose: ColumnPurpose): string[] {
  const wanted = [...ALWAYS, ...TAKES[purpose]]
  return run.channels.map((one) => one.channel).filter((channel) => wanted.includes(channel))
}

/**
 * Columns of a run as the core takes them, without outliers, with what is known of it beside its columns.
 *
 * @param column gives a channel that the run has; null for one that was not fetched
 */
export function assembleRun(run: RunInfo, column: (channel: string) => Float32Array | null): RunColumns {
  const given = [...ALWAYS, ...NAMED, ...BESIDE].flatMap((channel) => {
    const values = readChannelAs(run.readAs, channel, column)
    return values ? [[channel, values] as const] : []
  })
  const { time, rpm, ...others } = alignChannels(withoutOutliers(Object.fromEntries(given)))
  const named = NAMED.flatMap((channel) => (others[channel] ? [[channel, others[channel]] as const] : []))
  const beside = BESIDE.flatMap((channel) => (others[channel] ? [[channel, others[channel]] as const] : []))
  const whole: RunColumns = {
    id: run.id,
    time: time!,
    rpm: rpm!,
    ...(Object.fromEntries(named) as Partial<RunColumns>),
    lambda: LAMBDAS.flatMap((channel) => others[channel] ?? []),
    ...(beside.length && { beside: Object.fromEntries(beside) }),
    ...knownBeside(run),
    ...(run.kind === 'road' && { isRide: true }),
    ...(run.stretches && !run.part && { stretches: run.stretches }),
  }
  const kept = withoutSpans(whole, run.without ?? [])
  return run.part ? cropped(kept, run.part) : kept
}

/** What is known of a run beside its columns and bears on what is made of them. */
export function knownBeside({ sensorPlace, leftOut }: RunInfo): Pick<RunColumns, 'sensorPlace' | 'leftOut'> {
  const band = leftOut && leftOut.fromRpm !== null && leftOut.toRpm !== null
  return {
    ...(sensorPlace && { sensorPlace }),
    ...(band && { leftOut: { fromRpm: leftOut.fromRpm!, toRpm: leftOut.toRpm! } }),
  }
}

/** Whether somebody left the whole run out. */
export function isLeftOut({ leftOut }: RunInfo): boolean {
  return leftOut !== null && leftOut.fromRpm === null
}
