import { Router } from 'express'
import {
  checkForm,
  checkInput,
  checkMapping,
  columnsRequestSchema,
  madeOnAnswerSchema,
  InputError,
  readAsRequestSchema,
  runChangeSchema,
  runsChangeSchema,
  uploadSchema,
} from '@yuzumix/core'
import { doubtsFor } from '../acts/doubtsFor'
import { fieldRunsOf } from '../acts/ask'
import { sayMadeOn } from '../acts/sayMadeOn'
import { changeRunAsked, changeRunsAsked } from '../acts/changeRun'
import { addLog, rememberedMappings } from '../intake/addLog'
import { countValues, readColumns } from '../store/columns'
import { readRunsAs } from '../store/readAs'
import { findRun, listRuns } from '../store/runs'
import { findSet } from '../store/sets'
import { goneSignal, jobOf, param, type Context } from './context'
import { notFound, Problem } from './problem'
import { fileUpload, originalName, withUpload } from './upload'

function readUploadFields(raw: Record<string, string>) {
  const fields = checkForm(uploadSchema, raw)
  if (fields.mapping === undefined) return { ...fields, mapping: undefined }
  try {
    return { ...fields, mapping: checkMapping(JSON.parse(fields.mapping)) }
  } catch (error) {
    if (error instanceof SyntaxError) throw new InputError([{ field: 'mapping', message: 'is not JSON' }])
    throw error
  }
}

/** Values of columns in one answer: a quarter of a gigabyte. */
const MOST_VALUES = 2 ** 26

export function runRoutes(context: Context): Router {
  const { store } = context
  const router = Router()
  /** Share read so far of imports under way, by the id the client gave. */
  const underWay = new Map<string, number>()

  router.get('/imports/:import', (request, response) => {
    // Whoever asks may be a moment early or late: that is no error.
    response.json({ share: underWay.get(param(request, 'import')) ?? null })
  })
  router.get('/mappings', async (_request, response) => {
    response.json(await rememberedMappings(store))
  })
  router.get('/jobs/:job/runs', async (request, response) => {
    response.json(await listRuns(store, (await jobOf(request, context)).id))
  })
  router.post('/jobs/:job/runs', fileUpload(store), (request, response) =>
    withUpload(request, async (file) => {
      const job = await jobOf(request, context)
      const fields = readUploadFields({ ...request.body } as Record<string, string>)
      if (fields.set !== undefined && !(await findSet(store, fields.set, job.id)))
        throw new InputError([{ field: 'set', message: 'there is no such set in this job' }])
      const importId = request.get('x-import-id')
      try {
        if (importId) underWay.set(importId, 0)
        const log = { ...fields, path: file.path, name: fields.name ?? originalName(file) }
        const run = await addLog(
          context,
          job,
          log,
          (share) => importId && underWay.set(importId, share),
          goneSignal(request),
        )
        response.status(201).location(`/api/v1/jobs/${job.id}/runs/${run.id}`).json(run)
      } finally {
        if (importId) underWay.delete(importId)
      }
    }),
  )
  router.get('/jobs/:job/runs/:run', async (request, response) => {
    const run = await findRun(store, param(request, 'job'), param(request, 'run'))
    if (!run) throw notFound('run')
    response.json(run)
  })
  router.patch('/jobs/:job/runs', async (request, response) => {
    const job = await jobOf(request, context)
    const runs = await changeRunsAsked(store, job.id, checkInput(runsChangeSchema, request.body))
    if (!runs) throw new InputError([{ field: 'runs', message: 'one of them is not in this job' }])
    response.json(runs)
  })
  router.patch('/jobs/:job/runs/:run', async (request, response) => {
    const change = checkInput(runChangeSchema, request.body)
    const run = await changeRunAsked(store, param(request, 'job'), param(request, 'run'), change)
    if (!run) throw notFound('run')
    response.json(run)
  })
  router.post('/jobs/:job/made-on', async (request, response) => {
    const { table, revision } = checkInput(madeOnAnswerSchema, request.body)
    const runs = await sayMadeOn(store, param(request, 'job'), table, revision)
    if (!runs) throw notFound('table')
    response.json(runs)
  })
  router.get('/jobs/:job/taken-out', async (request, response) => {
    response.json(await listRuns(store, (await jobOf(request, context)).id, true))
  })
  router.get('/jobs/:job/doubts', async (request, response) => {
    const job = await jobOf(request, context)
    response.json(await doubtsFor(context, job, await fieldRunsOf(context, job), null, goneSignal(request)))
  })
  router.post('/jobs/:job/read-as', async (request, response) => {
    const { runs, readAs } = checkInput(readAsRequestSchema, request.body)
    const job = await jobOf(request, context)
    if (!(await readRunsAs(store, job.id, runs, readAs ?? null)))
      throw new InputError([{ field: 'runs', message: 'one of them is not in this job' }])
    response.json((await listRuns(store, job.id)).filter((run) => runs.includes(run.id)))
  })
  router.get('/jobs/:job/runs/:run/columns', async (request, response) => {
    const { channels } = request.query
    if (typeof channels !== 'string' || channels === '')
      throw new InputError([{ field: 'channels', message: 'name the columns wanted, apart by commas' }])
    const asked = { run: param(request, 'run'), channels: channels.split(',') }
    const data = await readColumns(store, param(request, 'job'), [asked])
    if (!data) throw notFound('run, or it has not all of these channels')
    response.type('application/octet-stream').set('Cache-Control', 'no-cache').send(data[0])
  })
  router.post('/jobs/:job/columns', async (request, response) => {
    const { runs: asked } = checkInput(columnsRequestSchema, request.body)
    const job = param(request, 'job')
    if ((await countValues(store, job, asked)) > MOST_VALUES)
      throw new Problem(
        413,
        'Too much at once',
        'These columns are too large for one answer. Ask for fewer runs at a time.',
      )
    const data = await readColumns(store, job, asked)
    if (!data) throw notFound('run, or one has not all of these channels')
    response.type('application/octet-stream').send(Buffer.concat(data))
  })
  router.get('/jobs/:job/runs/:run/channels/:channel', async (request, response) => {
    const asked = { run: param(request, 'run'), channels: [param(request, 'channel')] }
    const data = await readColumns(store, param(request, 'job'), [asked])
    if (!data) throw notFound('channel')
    response.type('application/octet-stream').set('Cache-Control', 'no-cache').send(data[0])
  })
  return router
}
