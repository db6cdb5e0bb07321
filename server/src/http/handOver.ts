import { Router, type Request, type Response } from 'express'
import {
  movedByZone,
  POWER_UNITS,
  reportHtml,
  TORQUE_UNITS,
  USUAL_UNITS,
  type PowerUnit,
  type Report,
  type ReportReader,
  type ReportUnits,
  type TorqueUnit,
} from '@yuzumix/core'
import { handOver, keepReport, reopen } from '../acts/handOver'
import { reportFor } from '../acts/report/reportFor'
import { reportPdf } from '../acts/report/reportPdf'
import type { Benches } from '../rigs/benches'
import { listReports } from '../store/reports'
import { findRevision, findTable } from '../store/tables'
import { goneSignal, jobOf, param, type Context } from './context'
import { notFound } from './problem'

/** Customer's version unless the workshop's is asked for. */
const readerOf = ({ query }: Request): ReportReader => (query['for'] === 'workshop' ? 'workshop' : 'customer')
const stateOf = ({ query }: Request): string | null =>
  typeof query['state'] === 'string' ? query['state'].slice(0, 120) : null

/** Units that it is to be written in; the usual ones for what is not said. */
const unitsOf = ({ query }: Request): ReportUnits => ({
  power: Object.keys(POWER_UNITS).find((one): one is PowerUnit => one === query['power']) ?? USUAL_UNITS.power,
  mixture: query['mixture'] === 'AFR' ? 'AFR' : 'lambda',
  torque: Object.keys(TORQUE_UNITS).find((one): one is TorqueUnit => one === query['torque']) ?? USUAL_UNITS.torque,
})
/** Names the file after the job, with signs that any folder takes. */
function nameFile(response: Response, { title, n }: Report, ending: string): void {
  const name = `${title}${n === null ? '' : `, report ${n}`}.${ending}`.replace(/[\\/:*?"<>|\p{Cc}]+/gu, '_')
  const plainName = name.replace(/[^\x20-\x7e]/g, '_')
  response.set('content-disposition', `inline; filename="${plainName}"; filename*=UTF-8''${encodeURIComponent(name)}`)
}

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
    const made = await report(request)
    nameFile(response, made, 'html')
    response.type('html').send(reportHtml(made, readerOf(request), unitsOf(request)))
  })
  router.get('/jobs/:job/report.pdf', async (request, response) => {
    const paper = request.query['paper'] === 'letter' ? 'letter' : 'A4'
    const made = await report(request)
    nameFile(response, made, 'pdf')
    response.type('pdf').send(await reportPdf(made, readerOf(request), paper, unitsOf(request)))
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
    const numberOf = (name: string, usual: number): number => {
      const n = request.query[name] === undefined ? usual : Number(request.query[name])
      if (!info.revisions.some((one) => one.n === n)) throw notFound(`revision to count ${name}`)
      return n
    }
    const [from, to] = [numberOf('from', info.revisions[0]!.n), numberOf('to', info.revisions.at(-1)!.n)]
    const [first, last] = await Promise.all([from, to].map((n) => findRevision(store, job.id, info.id, n)))
    response.json(movedByZone(first!.table, last!.table))
  })
  router.post('/jobs/:job/done', async (request, response) => {
    response.json(await handOver(context, benches, await jobOf(request, context), goneSignal(request)))
  })
  router.post('/jobs/:job/reopen', async (request, response) => {
    response.json(await reopen(context, await jobOf(request, context)))
  })
  return router
}
