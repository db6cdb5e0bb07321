import { Router } from 'express'
import { checkInput, compareRequestSchema } from '@yuzumix/core'
import { compareSets } from '../acts/compareSets'
import { goneSignal, jobOf, type Context } from './context'

export function compareRoutes(context: Context): Router {
  const router = Router()
  router.post('/jobs/:job/compare', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(compareRequestSchema, request.body)
    response.json(await compareSets(context, job, asked, goneSignal(request)))
  })
  return router
}
