import { Router, type Request } from 'express'
import { movedByZone, reportHtml, type ReportReader } from '@yuzumix/core'
import { handOver, keepReport, reopen } from '../acts/handOver'
import { reportFor } from '../acts/reportFor'
import { reportPdf } from '../acts/reportPdf'
import type { Benches } from '../rigs/benches'
import { listReports } from '../store/reports'
import { findRevision, findTable } from '../store/tables'
import { goneSignal, jobOf, param, type Context } from './context'
import { notFound } from './problem'

/** Customer's version unless the workshop's is asked for. */
const readerOf = ({ query }: Request): ReportReader => (query['for'] === 'workshop' ? 'workshop' : 'customer')
const stateOf = ({ query }: Request): string | null =>
  typeof query['state'] === 'string' ? query['state'].slice(0, 120) : null

/** The report, and handing a job over. */
export function handOverRoutes(context: Context, benches: Benches): Router {
  const { store } = context
  const router = Router()
  const report = async (request: Request) =>
    reportFor(context, await jobOf(request, context), stateOf(request), goneSignal(request))
  router.get('/jobs/:job/report.json', async (request, response) => {
    response.json(await report(request))
  })
  router.get('/jobs/:job/report.html', async (request, response) => {
    // The page carries its own style and nothing else.
    response.set('content-security-policy', "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'self'")
    response.type('html').send(reportHtml(await report(request), readerOf(request)))
  })
  router.get('/jobs/:job/report.pdf', async (request, response) => {
    const paper = request.query['paper'] === 'letter' ? 'letter' : 'A4'
    response.type('pdf').send(await reportPdf(await report(request), readerOf(request), paper))
  })
  router.get('/jobs/:job/reports', async (request, response) => {
    response.json(await listReports(store, (await jobOf(request, context)).id))
  })
  router.post('/jobs/:job/reports', async (request, response) => {
    response.status(201).json(await keepReport(context, await jobOf(request, context), goneSignal(request)))
  })
  router.get('/jobs/:job/tables/:table/moved', async (request, response) => {
    const job = await jobOf(request, context)
    const info = await findTable(store, job.id, param(request, 'table'))
    if (!info) throw notFound('table')
    response.json(movedByZone((await findRevision(store, job.id, info.id, 1))!.table, info.table))
  })
  router.post('/jobs/:job/done', async (request, response) => {
    response.json(await handOver(context, benches, await jobOf(request, context), goneSignal(request)))
  })
  router.post('/jobs/:job/reopen', async (request, response) => {
    response.json(await reopen(context, await jobOf(request, context)))
  })
  return router
}
