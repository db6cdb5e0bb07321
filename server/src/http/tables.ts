import { readFile } from 'node:fs/promises'
import { Router, type Request } from 'express'
import {
  checkInput,
  checkTable,
  InputError,
  largeStepsText,
  newRevisionSchema,
  newTableSchema,
  tableToCsv,
  tableToJson,
  type Matrix,
} from '@yuzumix/core'
import { judgeSteps, TooLarge } from '../acts/judgeSteps'
import { readTableFile, tableToXlsx } from '../intake/tableFile'
import {
  addRevision,
  addTable,
  findRevision,
  findTable,
  listTables,
  StaleRevision,
  tableHistories,
} from '../store/tables'
import { jobOf, param, type Context } from './context'
import { notFound, Problem } from './problem'
import { fileUpload, withUpload } from './upload'

/** Body of a new revision, checked. */
interface RevisionRequest {
  values: Matrix
  parent: number
  reason: string
  runs?: string[]
  global?: number
  override?: string
  hardware?: { what: string; factor: number }
}

const LARGEST_TABLE_FILE = 5 * 1024 ** 2
const XLSX = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'

export function tableRoutes(context: Context): Router {
  const { store } = context
  const router = Router()
  router.post('/tables/read', fileUpload(store), (request, response) =>
    withUpload(request, async (file) => {
      if (file.size > LARGEST_TABLE_FILE)
        throw new Problem(413, 'Too large', 'A table file may have 5 MB at the most.', [
          { field: 'file', message: 'too large' },
        ])
      response.json(await readTableFile(await readFile(file.path)))
    }),
  )
  router.get('/jobs/:job/tables', async (request, response) => {
    response.json(await listTables(store, (await jobOf(request, context)).id))
  })
  router.get('/jobs/:job/tables/histories', async (request, response) => {
    const job = await jobOf(request, context)
    const since = Date.parse(String(request.query['since'] ?? ''))
    if (Number.isNaN(since)) throw new InputError([{ field: 'since', message: 'must be a time as in ISO 8601' }])
    response.json(await tableHistories(store, job.id, new Date(since).toISOString()))
  })
  router.post('/jobs/:job/tables', async (request, response) => {
    const job = await jobOf(request, context)
    const { name, cylinder, table, reason } = checkInput<unknown>(newTableSchema, request.body) as {
      name: string
      cylinder?: number | null
      table: unknown
      reason?: string
    }
    const added = await addTable(
      store,
      job.id,
      { name, cylinder: cylinder ?? null, table: checkTable(table) },
      reason ?? 'As it was at first',
    )
    response.status(201).location(`/api/v1/jobs/${job.id}/tables/${added.id}`).json(added)
  })
  router.get('/jobs/:job/tables/:table', async (request, response) => {
    const table = await findTable(store, param(request, 'job'), param(request, 'table'))
    if (!table) throw notFound('table')
    response.json(table)
  })
  /** A new state as asked for, with the table that it is one of and what is too far in it. */
  async function stateOf(request: Request) {
    const job = await jobOf(request, context)
    const asked = checkInput<unknown>(newRevisionSchema, request.body) as RevisionRequest
    const info = await findTable(store, job.id, param(request, 'table'))
    if (!info) throw notFound('table')
    const latest = info.revisions.at(-1)!.n
    if (asked.parent !== latest) throw new StaleRevision(latest)
    const { values, global = info.table.global ?? 0 } = asked
    const after = checkTable({ ...info.table, values, global })
    return { info, asked, after, judged: await judgeSteps(context, job, info, after, asked.hardware?.factor) }
  }
  router.post('/jobs/:job/tables/:table/revisions/check', async (request, response) => {
    const { judged } = await stateOf(request)
    response.json({
      steps: judged.steps.map((step) => ({ ...step, size: Number.isFinite(step.size) ? step.size : null })),
      from: judged.from,
      text: judged.steps.length ? largeStepsText(judged.steps, judged.from) : '',
    })
  })
  router.post('/jobs/:job/tables/:table/revisions', async (request, response) => {
    const { info, asked, after, judged } = await stateOf(request)
    const isLarge = judged.steps.length > 0
    if (isLarge && !asked.override) throw new TooLarge(judged.steps, judged.from)
    const table = await addRevision(store, info.job, info.id, {
      parent: asked.parent,
      reason: asked.reason,
      runs: asked.runs ?? [],
      values: after.values,
      global: after.global ?? 0,
      override: isLarge ? asked.override : undefined,
      hardware: asked.hardware && `${asked.hardware.what}, times ${asked.hardware.factor} on the table`,
    })
    if (!table) throw notFound('table')
    response.status(201).json(table)
  })
  router.get('/jobs/:job/tables/:table/revisions/:revision', async (request, response) => {
    const [number, format] = param(request, 'revision').split('.') as [string, string | undefined]
    const found = await findRevision(
      store,
      param(request, 'job'),
      param(request, 'table'),
      /^\d{1,7}$/.test(number) ? Number(number) : -1,
    )
    if (!found) throw notFound('revision')
    const { table, revision, name } = found
    const fileName = `${name.replace(/[^\p{L}\p{N} ._-]/gu, '_')} revision ${revision.n}`
    if (format === undefined) response.json({ ...revision, table })
    else if (format === 'csv') response.attachment(`${fileName}.csv`).type('text/csv').send(tableToCsv(table))
    else if (format === 'json')
      response
        .attachment(`${fileName}.json`)
        .type('application/json')
        .send(tableToJson(table, { name, revision: revision.n, reason: revision.reason }))
    else if (format === 'xlsx')
      response
        .attachment(`${fileName}.xlsx`)
        .type(XLSX)
        .send(await tableToXlsx(table, name))
    else
      throw new Problem(404, 'Not found', `There is no export as "${format.slice(0, 20)}". Ask for csv, json or xlsx.`)
  })
  return router
}
