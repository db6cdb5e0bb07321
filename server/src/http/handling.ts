import { Router } from 'express'
import {
  checkInput,
  complaintChangeSchema,
  newComplaintSchema,
  newPutBackSchema,
  newRigLineSchema,
  putBackChangeSchema,
  rigLineChangeSchema,
} from '@yuzumix/core'
import { findingsOfComplaints } from '../acts/report/complaintFindings'
import { changeComplaint, listComplaints, pinComplaint, takeBackComplaint } from '../acts/complaints'
import { listPutBack, notePutBack, settlePutBack } from '../acts/putBack'
import { addRigLine, listRig, tickRigLine } from '../acts/rigLines'
import { checkProbes } from '../acts/checkProbes'
import { verdictFor } from '../acts/verdictFor'
import { goneSignal, jobOf, param, type Context } from './context'
import { notFound } from './problem'

/** Taking a job in, rigging it, and what has to be put back. */
export function handlingRoutes(context: Context): Router {
  const { store } = context
  const router = Router()
  router.get('/jobs/:job/complaints', async (request, response) => {
    response.json(await listComplaints(store, (await jobOf(request, context)).id))
  })
  router.get('/jobs/:job/complaint-findings', async (request, response) => {
    response.json(await findingsOfComplaints(context, await jobOf(request, context), goneSignal(request)))
  })
  router.post('/jobs/:job/complaints', async (request, response) => {
    const job = await jobOf(request, context)
    response.status(201).json(await pinComplaint(store, job, checkInput(newComplaintSchema, request.body)))
  })
  router.patch('/jobs/:job/complaints/:complaint', async (request, response) => {
    const job = await jobOf(request, context)
    const change = checkInput(complaintChangeSchema, request.body)
    const changed = await changeComplaint(store, job, param(request, 'complaint'), change)
    if (!changed) throw notFound('complaint')
    response.json(changed)
  })
  router.delete('/jobs/:job/complaints/:complaint', async (request, response) => {
    const job = await jobOf(request, context)
    if (!(await takeBackComplaint(store, job.id, param(request, 'complaint')))) throw notFound('complaint')
    response.status(204).end()
  })
  router.get('/jobs/:job/verdict', async (request, response) => {
    response.json(await verdictFor(context, await jobOf(request, context), goneSignal(request)))
  })

  router.get('/jobs/:job/rig', async (request, response) => {
    response.json(await listRig(store, await jobOf(request, context)))
  })
  router.post('/jobs/:job/rig', async (request, response) => {
    const job = await jobOf(request, context)
    response.status(201).json(await addRigLine(store, job, checkInput(newRigLineSchema, request.body)))
  })
  router.patch('/jobs/:job/rig/:line', async (request, response) => {
    const job = await jobOf(request, context)
    const { done } = checkInput(rigLineChangeSchema, request.body)
    const line = await tickRigLine(store, job, param(request, 'line'), done)
    if (!line) throw notFound('line')
    response.json(line)
  })
  router.get('/jobs/:job/probes', async (request, response) => {
    response.json(await checkProbes(context, await jobOf(request, context)))
  })
  router.get('/jobs/:job/put-back', async (request, response) => {
    response.json(await listPutBack(store, (await jobOf(request, context)).id))
  })
  router.post('/jobs/:job/put-back', async (request, response) => {
    const job = await jobOf(request, context)
    response.status(201).json(await notePutBack(store, job.id, checkInput(newPutBackSchema, request.body)))
  })
  router.patch('/jobs/:job/put-back/:line', async (request, response) => {
    const job = await jobOf(request, context)
    const change = checkInput(putBackChangeSchema, request.body)
    const line = await settlePutBack(store, job.id, param(request, 'line'), change)
    if (!line) throw notFound('line')
    response.json(line)
  })
  return router
}
