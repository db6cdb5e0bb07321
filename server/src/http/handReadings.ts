import { Router } from 'express'
import { checkInput, handReadingsSchema, InputError } from '@yuzumix/core'
import { addHandReadings } from '../intake/addHandReadings'
import { findSet } from '../store/sets'
import { jobOf, type Context } from './context'

export function handReadingRoutes(context: Context): Router {
  const { store } = context
  const router = Router()
  router.post('/jobs/:job/hand-readings', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(handReadingsSchema, request.body)
    if (asked.set !== undefined && !(await findSet(store, asked.set, job.id)))
      throw new InputError([{ field: 'set', message: 'there is no such set in this job' }])
    const run = await addHandReadings(store, job, asked)
    response.status(201).location(`/api/v1/jobs/${job.id}/runs/${run.id}`).json(run)
  })
  return router
}
