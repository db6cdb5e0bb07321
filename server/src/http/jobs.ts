import { Router } from 'express'
import { checkInput, jobChangeSchema, newJobSchema } from '@yuzumix/core'
import { changeJob, createJob, deleteJob, listJobs } from '../store/jobs'
import { jobOf, param, type Context } from './context'
import { notFound } from './problem'

export function jobRoutes(context: Context): Router {
  const { store } = context
  const router = Router()
  router.get('/jobs', async (_request, response) => {
    response.json(await listJobs(store))
  })
  router.post('/jobs', async (request, response) => {
    const job = await createJob(store, checkInput(newJobSchema, request.body))
    response.status(201).location(`/api/v1/jobs/${job.id}`).json(job)
  })
  router.get('/jobs/:job', async (request, response) => {
    response.json(await jobOf(request, context))
  })
  router.patch('/jobs/:job', async (request, response) => {
    const job = await changeJob(store, param(request, 'job'), checkInput(jobChangeSchema, request.body))
    if (!job) throw notFound('job')
    response.json(job)
  })
  router.delete('/jobs/:job', async (request, response) => {
    if (!(await deleteJob(store, param(request, 'job')))) throw notFound('job')
    response.status(204).end()
  })
  return router
}
