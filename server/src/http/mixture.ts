import { Router } from 'express'
import {
  answerChange,
  changeAnswer,
  changeQuestion,
  changeRequestSchema,
  checkInput,
  fieldAnswer,
  fieldRequestSchema,
  flatnessAnswer,
  InputError,
  loopAnswer,
  loopQuestion,
  loopRequestSchema,
  needsState,
  nextRunRequestSchema,
  type ChangeRequest,
  type Job,
} from '@yuzumix/core'
import { ask, fieldFor, groundOf, loaderOf } from '../acts/ask'
import { nextRunFor } from '../acts/nextRunFor'
import { findRevision } from '../store/tables'
import { goneSignal, jobOf, type Context } from './context'
import { notFound } from './problem'

/** The change of one fuel table, from its latest state or from another one. */
async function changeFor(
  context: Context,
  job: Job,
  { table: id, revision, cylinder, limits, rpm: _rpm, load: _load, loadAxis: _axis, ...asked }: ChangeRequest,
  signal: AbortSignal,
) {
  const { store } = context
  const ground = await groundOf(store, job)
  const info = ground.tables.find((one) => one.id === id)
  const state = info && (revision === undefined ? info : await findRevision(store, job.id, id, revision))
  if (!info || !state) throw notFound(info ? 'revision' : 'table')
  if (!info.table.kind.startsWith('fuel'))
    throw new InputError([
      { field: 'table', message: `is a ${info.table.kind} table; only fuel tables can be corrected here` },
    ])
  const question = await changeQuestion(ground, loaderOf(store), {
    ...asked,
    table: { ...info, table: state.table },
    cylinder,
  })
  needsState(question.untold, ground.tables)
  const field = await ask(context, 'field', question.field, signal)
  const told = field.cylinders.map((one) => one.cylinder)
  if (cylinder != null && !told.includes(cylinder))
    throw new InputError([{ field: 'cylinder', message: `is not in the runs: they tell of ${told.join(', ')}` }])
  return changeAnswer(question, field, answerChange(question, field, limits)!)
}

export function mixtureRoutes(context: Context): Router {
  const { store } = context
  const router = Router()
  router.post('/jobs/:job/field', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(fieldRequestSchema, request.body ?? {})
    response.json(fieldAnswer(await fieldFor(context, job, asked, goneSignal(request))))
  })
  router.post('/jobs/:job/flatness', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(fieldRequestSchema, request.body ?? {})
    response.json(flatnessAnswer(await fieldFor(context, job, asked, goneSignal(request))))
  })
  router.post('/jobs/:job/next-run', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(nextRunRequestSchema, request.body ?? {})
    response.json(await nextRunFor(context, job, asked, goneSignal(request)))
  })
  router.post('/jobs/:job/change', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(changeRequestSchema, request.body)
    response.json(await changeFor(context, job, asked, goneSignal(request)))
  })
  router.post('/jobs/:job/loop-step', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(loopRequestSchema, request.body ?? {})
    const question = await loopQuestion(await groundOf(store, job), loaderOf(store), asked)
    response.json(loopAnswer(question, await ask(context, 'loop', question, goneSignal(request))))
  })
  return router
}
