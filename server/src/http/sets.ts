import { Router } from 'express'
import { checkInput, newSetSchema, setChangeSchema } from '@yuzumix/core'
import { changeSet, createSet, deleteSet, findSet, listSets } from '../store/sets'
import { jobOf, param, type Context } from './context'
import { notFound } from './problem'

export function setRoutes(context: Context): Router {
  const { store } = context
  const router = Router()
  router.get('/sets', async (_request, response) => {
    response.json(await listSets(store))
  })
  router.get('/jobs/:job/sets', async (request, response) => {
    response.json(await listSets(store, (await jobOf(request, context)).id))
  })
  router.post('/jobs/:job/sets', async (request, response) => {
    const job = await jobOf(request, context)
    const set = await createSet(store, job.id, checkInput(newSetSchema, request.body))
    response.status(201).location(`/api/v1/jobs/${job.id}/sets/${set.id}`).json(set)
  })
  router.get('/jobs/:job/sets/:set', async (request, response) => {
    const set = await findSet(store, param(request, 'set'), param(request, 'job'))
    if (!set) throw notFound('set')
    response.json(set)
  })
  router.patch('/jobs/:job/sets/:set', async (request, response) => {
    const change = checkInput(setChangeSchema, request.body)
    const set = await changeSet(store, param(request, 'job'), param(request, 'set'), change)
    if (!set) throw notFound('set')
    response.json(set)
  })
  router.delete('/jobs/:job/sets/:set', async (request, response) => {
    if (!(await deleteSet(store, param(request, 'job'), param(request, 'set')))) throw notFound('set')
    response.status(204).end()
  })
  return router
}
