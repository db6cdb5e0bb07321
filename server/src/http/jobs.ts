import { Router } from 'express'
import { checkInput, jobChangeSchema, newJobSchema } from '@yuzumix/core'
import { changeJobAsked, makeJob } from '../acts/changeJob'
import { deleteJobAsked } from '../acts/deleteJob'
import type { Benches } from '../rigs/benches'
import { listJobs } from '../store/jobs'
import { jobOf, param, type Context } from './context'
import { notFound } from './problem'

export function jobRoutes(context: Context, benches: Benches): Router {
  const { store } = context
  const router = Router()
  router.get('/jobs', async (_request, response) => {
    response.json(await listJobs(store))
  })
  router.post('/jobs', async (request, response) => {
    const job = await makeJob(store, checkInput(newJobSchema, request.body))
    response.status(201).location(`/api/v1/jobs/${job.id}`).json(job)
  })
  router.get('/jobs/:job', async (request, response) => {
    response.json(await jobOf(request, context))
  })
  router.patch('/jobs/:job', async (request, response) => {
    const job = await changeJobAsked(store, await jobOf(request, context), checkInput(jobChangeSchema, request.body))
    if (!job) throw notFound('job')
    response.json(job)
  })
  router.delete('/jobs/:job', async (request, response) => {
    const override = typeof request.query['override'] === 'string' ? request.query['override'].slice(0, 500) : undefined
    if (!(await deleteJobAsked(store, benches, param(request, 'job'), override))) throw notFound('job')
    response.status(204).end()
  })
  return router
}
