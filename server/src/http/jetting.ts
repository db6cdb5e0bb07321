import { Router } from 'express'
import { checkInput, jettingQuestion, jettingRequestSchema } from '@yuzumix/core'
import { ask, groundOf } from '../acts/ask'
import { goneSignal, jobOf, type Context } from './context'

export function jettingRoutes(context: Context): Router {
  const { store } = context
  const router = Router()
  router.post('/jobs/:job/jetting', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(jettingRequestSchema, request.body ?? {})
    const question = jettingQuestion(await groundOf(store, job), asked)
    response.json(await ask(context, 'jetting', question, goneSignal(request)))
  })
  return router
}
