import { Router } from 'express'
import {
  againstShelfSchema,
  checkInput,
  InputError,
  newShelfSchema,
  shelfMatches,
  shelfStartSchema,
} from '@yuzumix/core'
import { againstShelf, keepOnShelf, meanOf, startFromShelf } from '../acts/shelf'
import { findJob } from '../store/jobs'
import { dropShelf, findShelf, listShelf } from '../store/shelf'
import { findTable } from '../store/tables'
import { goneSignal, jobOf, param, type Context } from './context'
import { notFound } from './problem'

/** Calibrations kept from earlier jobs. */
export function shelfRoutes(context: Context): Router {
  const { store } = context
  const router = Router()
  const shelfOf = async (id: string) => {
    const shelf = await findShelf(store, id)
    if (!shelf) throw new InputError([{ field: 'shelf', message: 'there is no such calibration on the shelf' }])
    return shelf
  }
  router.get('/shelf', async (_request, response) => {
    response.json(await listShelf(store))
  })
  router.post('/shelf', async (request, response) => {
    const { job: id, name, table } = checkInput(newShelfSchema, request.body)
    const job = await findJob(store, id)
    const info = job && table !== undefined ? await findTable(store, id, table) : null
    if (!job || (table !== undefined && !info))
      throw new InputError([{ field: job ? 'table' : 'job', message: `there is no such ${job ? 'table' : 'job'}` }])
    response.status(201).json(await keepOnShelf(context, job, info, name, goneSignal(request)))
  })
  router.get('/shelf/:shelf', async (request, response) => {
    const shelf = await findShelf(store, param(request, 'shelf'))
    if (!shelf) throw notFound('calibration')
    response.json(shelf)
  })
  router.delete('/shelf/:shelf', async (request, response) => {
    if (!(await dropShelf(store, param(request, 'shelf')))) throw notFound('calibration')
    response.status(204).end()
  })
  router.get('/jobs/:job/shelf-matches', async (request, response) => {
    response.json(shelfMatches(await jobOf(request, context), await listShelf(store)))
  })
  router.post('/jobs/:job/shelf-start', async (request, response) => {
    const job = await jobOf(request, context)
    const { shelf: id, mean, override } = checkInput(shelfStartSchema, request.body)
    const shelf = await shelfOf(id)
    const matches = shelfMatches(job, await listShelf(store))
    const start = mean ? meanOf(shelf, matches) : shelf
    response.json(await startFromShelf(context, job, start, matches, override))
  })
  router.post('/jobs/:job/tables/:table/against-shelf', async (request, response) => {
    const job = await jobOf(request, context)
    const { shelf } = checkInput(againstShelfSchema, request.body)
    if (!(await findTable(store, job.id, param(request, 'table')))) throw notFound('table')
    response.json(await againstShelf(context, job, param(request, 'table'), await shelfOf(shelf)))
  })
  return router
}
