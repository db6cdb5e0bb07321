import { createHash } from 'node:crypto'
import {
  inputRefused,
  LOAD_UNITS,
  handColumns,
  type HandColumns,
  type HandFault,
  type HandRequest,
  type Job,
  type RunInfo,
} from '@yuzumix/core'
import type { Store } from '../store/database'
import { addRun } from '../store/runs'
import { newRun, type NamedColumn } from './newRun'

/**
 * Stores readings taken by hand as one run, or nothing.
 *
 * @throws Refusal 'input-refused' naming every cell at fault
 */
export async function addHandReadings(store: Store, job: Job, asked: HandRequest): Promise<RunInfo> {
  const loadAxis = asked.loadAxis ?? 'throttle'
  const made = handColumns(asked.readings, { scale: asked.gaugeScale ?? job.gaugeScale, loadAxis })
  if ('faults' in made)
    throw inputRefused(made.faults.map((fault) => ({ field: fieldOf(fault), message: fault.message })))
  const { columns } = made
  const run = newRun(namedColumns(columns, loadAxis), {
    name: asked.name ?? `Hand readings, ${asked.readings.length} points`,
    kind: 'hand readings',
    duration: columns.time.at(-1)!,
    digest: createHash('sha256').update(JSON.stringify(asked.readings)).digest('hex'),
    set: asked.set,
  })
  return addRun(store, job.id, run)
}

/** The fault's place in the body that was sent. */
function fieldOf({ row, bank, field }: HandFault): string {
  return `readings[${row}].${field}${bank === null ? '' : `[${bank}]`}`
}

function namedColumns(columns: HandColumns, loadAxis: 'throttle' | 'manifold'): NamedColumn[] {
  return [
    { channel: 'time', unit: 's', values: columns.time },
    { channel: 'rpm', unit: 'rpm', values: columns.rpm },
    { channel: loadAxis, unit: LOAD_UNITS[loadAxis], values: columns.load },
    ...columns.lambda.map((values, k) => ({ channel: `lambda${k + 1}`, unit: 'λ', values })),
    ...columns.exhaust.map((values, k) => ({ channel: `exhaust${k + 1}`, unit: '°C', values })),
    { channel: 'handRange', unit: 'λ', values: columns.handRange },
  ]
}
