import type { RunColumns } from '../log/run'
import type { RunInfo } from './entities'

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
] as const
const LAMBDAS = ['lambda1', 'lambda2', 'lambda3', 'lambda4']
const ALWAYS = ['time', 'rpm', ...LAMBDAS]
const FOR_FIELD: readonly string[] = ['throttle', 'manifold', 'coolant', 'trimShort', 'trimLong', 'handRange']

/** Channels of a run that a computation needs: those of the mixture field, or all that curves and comparisons take. */
export function channelsFor(run: RunInfo, purpose: 'field' | 'curves'): string[] {
  const wanted = [...ALWAYS, ...(purpose === 'field' ? FOR_FIELD : NAMED)]
  return run.channels.map((one) => one.channel).filter((channel) => wanted.includes(channel))
}

/**
 * Columns of a run as the core takes them, with what is known of it beside its columns.
 *
 * @param column gives a channel that the run has; null for one that was not fetched
 */
export function assembleRun(run: RunInfo, column: (channel: string) => Float32Array | null): RunColumns {
  const named = NAMED.flatMap((channel) => {
    const values = column(channel)
    return values ? [[channel, values] as const] : []
  })
  return {
    id: run.id,
    time: column('time')!,
    rpm: column('rpm')!,
    ...(Object.fromEntries(named) as Partial<RunColumns>),
    lambda: LAMBDAS.flatMap((channel) => column(channel) ?? []),
    ...asides(run),
  }
}

/** What is known of a run beside its columns and bears on what is made of them. */
export function asides({ sensorPlace, leftOut }: RunInfo): Pick<RunColumns, 'sensorPlace' | 'leftOut'> {
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
