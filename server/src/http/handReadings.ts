import { createHash } from 'node:crypto'
import { Router } from 'express'
import {
  checkInput,
  handColumns,
  handReadingsSchema,
  InputError,
  runFacts,
  type ChannelInfo,
  type HandColumns,
  type HandFault,
  type HandRequest,
} from '@yuzumix/core'
import { addRun, type NewRun } from '../store/runs'
import { findSet } from '../store/sets'
import { jobOf, type Context } from './context'

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

export function handReadingRoutes(context: Context): Router {
  const { store } = context
  const router = Router()
  router.post('/jobs/:job/hand-readings', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput<unknown>(handReadingsSchema, request.body) as HandRequest
    if (asked.set !== undefined && !(await findSet(store, asked.set, job.id)))
      throw new InputError([{ field: 'set', message: 'there is no such set in this job' }])
    const loadAxis = asked.loadAxis ?? 'throttle'
    const made = handColumns(asked.readings, { scale: asked.gaugeScale ?? job.gaugeScale, loadAxis })
    if ('faults' in made)
      throw new InputError(made.faults.map((fault) => ({ field: fieldOf(fault), message: fault.message })))
    const { columns } = made
    const run = await addRun(store, job.id, {
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
    response.status(201).location(`/api/v1/jobs/${job.id}/runs/${run.id}`).json(run)
  })
  return router
}
