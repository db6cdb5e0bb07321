import { Router } from 'express'
import { checkInput, sparkQuestion, sparkRequestSchema } from '@yuzumix/core'
import { ask, groundOf, loaderOf } from '../acts/ask'
import { goneSignal, jobOf, type Context } from './context'

export function sparkRoutes(context: Context): Router {
  const { store } = context
  const router = Router()
  router.post('/jobs/:job/spark', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(sparkRequestSchema, request.body ?? {})
    const question = await sparkQuestion(await groundOf(store, job), loaderOf(store), asked)
    response.json(await ask(context, 'spark', question, goneSignal(request)))
  })
  return router
}
