import { Router } from 'express'
import {
  checkInput,
  plateAnswer,
  plateQuestion,
  plateRequestSchema,
  responseAnswer,
  responseQuestion,
  responseRequestSchema,
} from '@yuzumix/core'
import { ask, groundOf } from '../acts/ask'
import { goneSignal, jobOf, type Context } from './context'

export function responseRoutes(context: Context): Router {
  const router = Router()
  router.post('/jobs/:job/response', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(responseRequestSchema, request.body ?? {})
    const question = responseQuestion(await groundOf(context.store, job), asked)
    response.json(responseAnswer(await ask(context, 'response', question, goneSignal(request))))
  })
  router.post('/jobs/:job/plate', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(plateRequestSchema, request.body)
    const question = plateQuestion(await groundOf(context.store, job), asked)
    response.json(plateAnswer(await ask(context, 'plate', question, goneSignal(request))))
  })
  return router
}
