import { createHash } from 'node:crypto'
import {
  handColumns,
  InputError,
  runFacts,
  type ChannelInfo,
  type HandColumns,
  type HandFault,
  type HandRequest,
  type Job,
  type RunInfo,
} from '@yuzumix/core'
import type { Store } from '../store/database'
import { addRun, type NewRun } from '../store/runs'

/**
 * Stores readings taken by hand as one run, or nothing.
 *
 * @throws InputError naming every cell at fault
 */
export async function addHandReadings(store: Store, job: Job, asked: HandRequest): Promise<RunInfo> {
  const loadAxis = asked.loadAxis ?? 'throttle'
  const made = handColumns(asked.readings, { scale: asked.gaugeScale ?? job.gaugeScale, loadAxis })
  if ('faults' in made)
    throw new InputError(made.faults.map((fault) => ({ field: fieldOf(fault), message: fault.message })))
  const { columns } = made
  return addRun(store, job.id, {
    name: asked.name ?? `Hand readings, ${asked.readings.length} points`,
    kind: 'hand readings',
    samples: asked.readings.length,
    duration: columns.time.at(-1)!,
    warnings: [],
    gaugeScale: null,
    digest: createHash('sha256').update(JSON.stringify(asked.readings)).digest('hex'),
    facts: runFacts({ time: columns.time, rpm: columns.rpm }, 'hand readings'),
    set: asked.set,
    channels: channelsOf(columns, loadAxis),
  })
}

/** The fault's place in the body that was sent. */
function fieldOf({ row, bank, field }: HandFault): string {
  return `readings[${row}].${field}${bank === null ? '' : `[${bank}]`}`
}

function channelsOf(columns: HandColumns, loadAxis: 'throttle' | 'manifold'): NewRun['channels'] {
  const named: [channel: string, unit: string, values: Float32Array][] = [
    ['time', 's', columns.time],
    ['rpm', 'rpm', columns.rpm],
    [loadAxis, loadAxis === 'throttle' ? '%' : 'kPa', columns.load],
    ...columns.lambda.map((values, k): [string, string, Float32Array] => [`lambda${k + 1}`, 'λ', values]),
    ['handRange', 'λ', columns.handRange],
  ]
  return named.flatMap(([channel, unit, values]) => {
    const known = [...values].filter((value) => value === value)
    if (known.length === 0) return []
    const info: ChannelInfo = { channel, unit, count: known.length, min: Math.min(...known), max: Math.max(...known) }
    return [{ ...info, load: () => Promise.resolve(values) }]
  })
}
