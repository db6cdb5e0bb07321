import type { Response } from 'express'
import { reportHtml, unitsFrom, type Report, type ReportReader, type Units } from '@yuzumix/core'
import { handOver, keepReport, reopen } from '../acts/handling/handOver'
import { reportFor } from '../acts/report/reportFor'
import { reportPdf } from '../acts/report/reportPdf'
import type { Benches } from '../sessions/benches'
import { findReport, listReports } from '../store/reports'
import type { Workshop } from '../acts/questions/ask'
import type { Asked, Handlers } from './handlers'

type Reading = Pick<Asked<'reportHtml'>, 'job' | 'query' | 'gone'>
/** Customer's version unless the workshop's is asked for. */
const readerOf = ({ query }: Reading): ReportReader => (query['for'] === 'workshop' ? 'workshop' : 'customer')
/** Units that it is to be written in; the usual ones for what is not said. */
const unitsOf = ({ query: { power, torque, mixture } }: Reading): Units => unitsFrom({ power, torque, mixture })
/** Names the file after the job, with signs that any folder takes. */
function nameFile(response: Response, { title, n }: Report, ending: string): void {
  const name = `${title}${n === null ? '' : `, report ${n}`}.${ending}`.replace(/[\\/:*?"<>|\p{Cc}]+/gu, '_')
  const plainName = name.replace(/[^\x20-\x7e]/g, '_')
  response.set('content-disposition', `inline; filename="${plainName}"; filename*=UTF-8''${encodeURIComponent(name)}`)
}

/** The report, and handing a job over. */
export function handOverHandlers(context: Workshop, benches: Benches) {
  const report = async ({ job, query, gone }: Reading): Promise<Report> =>
    reportFor(context, await job(), query['state']?.slice(0, 120) ?? null, gone())
  return {
    reportJson: report,
    async reportHtml(asked) {
      const { response } = asked
      const made = await report(asked)
      // The page carries its own style and nothing else.
      response.set('content-security-policy', "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'self'")
      nameFile(response, made, 'html')
      response.type('html').send(reportHtml(made, readerOf(asked), unitsOf(asked)))
    },
    async reportPdf(asked) {
      const { query, response } = asked
      const made = await report(asked)
      nameFile(response, made, 'pdf')
      const paper = query['paper'] === 'letter' ? 'letter' : 'A4'
      response.type('pdf').send(await reportPdf(made, readerOf(asked), paper, unitsOf(asked)))
    },
    reports: async ({ job }) => listReports(context.store, (await job()).id),
    report: async ({ job, at }) =>
      findReport(context.store, (await job()).id, /^\d{1,7}$/.test(at.report) ? Number(at.report) : -1),
    saveReport: async ({ job, gone }) => keepReport(context, await job(), gone()),
    handOver: async ({ job, gone }) => handOver(context, benches, await job(), gone()),
    reopen: async ({ job }) => reopen(context, await job()),
  } satisfies Partial<Handlers>
}
