import { Router } from 'express'
import { checkInput, diagnosisSchema, TRAINER_CASES, trainerBenchSchema, workshopSchema } from '@yuzumix/core'
import type { Benches } from '../rigs/benches'
import { openCase, openTrainings } from '../acts/trainings'
import { findJob } from '../store/jobs'
import { stateOf } from './bench'
import { jobOf, param, type Context } from './context'
import { notFound } from './problem'

/** Cases to learn from. Nothing that is hidden leaves the server before a case is finished. */
export function trainerRoutes(context: Context, benches: Benches): Router {
  const { store } = context
  const trainings = openTrainings(store, benches)
  const router = Router()
  router.get('/trainer/cases', (_request, response) => {
    response.json(TRAINER_CASES.map(openCase))
  })
  router.post('/trainer/cases/:case', async (request, response) => {
    const id = await trainings.start(param(request, 'case'))
    if (!id) throw notFound('case')
    response.status(201).json(await findJob(store, id))
  })
  router.get('/jobs/:job/training', async (request, response) => {
    const job = await jobOf(request, context)
    response.json(await trainings.state(job.id))
  })
  router.put('/jobs/:job/training/bench', async (request, response) => {
    const job = await jobOf(request, context)
    const { speed } = checkInput(trainerBenchSchema, request.body)
    benches.of(job.id)?.needsNobodyElse(request.get('x-driver'))
    response.status(201).json(await stateOf(await trainings.connect(job.id, speed ?? 1)))
  })
  router.post('/jobs/:job/training/acts', async (request, response) => {
    const job = await jobOf(request, context)
    const { act } = checkInput(workshopSchema, request.body)
    benches.of(job.id)?.needsNobodyElse(request.get('x-driver'))
    await trainings.act(job.id, act)
    response.json(await trainings.state(job.id))
  })
  router.post('/jobs/:job/training/finish', async (request, response) => {
    const job = await jobOf(request, context)
    const { diagnosis } = checkInput(diagnosisSchema, request.body)
    await trainings.finish(job.id, diagnosis)
    response.json(await trainings.state(job.id))
  })
  return router
}
