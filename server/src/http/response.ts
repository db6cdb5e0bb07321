import { Router } from 'express'
import { checkInput, plateAnswer, plateRequestSchema, responseRequestSchema } from '@yuzumix/core'
import { plateFor, responseFor } from '../acts/responseFor'
import { goneSignal, jobOf, type Context } from './context'

export function responseRoutes(context: Context): Router {
  const router = Router()
  router.post('/jobs/:job/response', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(responseRequestSchema, request.body ?? {})
    response.json(await responseFor(context, job, asked, goneSignal(request)))
  })
  router.post('/jobs/:job/plate', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(plateRequestSchema, request.body)
    response.json(plateAnswer(await plateFor(context, job, asked, goneSignal(request))))
  })
  return router
}
