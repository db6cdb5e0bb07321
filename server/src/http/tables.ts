import { readFile } from 'node:fs/promises'
import { Router } from 'express'
import {
  checkInput,
  checkTable,
  firstValues,
  InputError,
  largeStepsText,
  newRevisionSchema,
  newRevisionsSchema,
  newTableSchema,
  passGate,
  tableChangeSchema,
  tableSaidSchema,
  tableToCsv,
  tableToJson,
} from '@yuzumix/core'
import { judgeRevision, saveRevisions } from '../acts/saveRevisions'
import { readTableFile, tableToXlsx } from '../intake/tableFile'
import { addTable, changeTable, findRevision, findTable, listTables, tableHistories } from '../store/tables'
import { jobOf, param, type Context } from './context'
import { notFound, Problem } from './problem'
import { fileUpload, withUpload } from './upload'

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
      response.json(await readTableFile(await readFile(file.path), checkInput(tableSaidSchema, { ...request.body })))
    }),
  )
  router.get('/jobs/:job/tables', async (request, response) => {
    response.json(await listTables(store, (await jobOf(request, context)).id))
  })
  router.get('/jobs/:job/tables/histories', async (request, response) => {
    const job = await jobOf(request, context)
    const since = Date.parse(typeof request.query['since'] === 'string' ? request.query['since'] : '')
    if (Number.isNaN(since)) throw new InputError([{ field: 'since', message: 'must be a time as in ISO 8601' }])
    response.json(await tableHistories(store, job.id, new Date(since).toISOString()))
  })
  router.post('/jobs/:job/tables', async (request, response) => {
    const job = await jobOf(request, context)
    const { name, cylinder, table: given, reason, override } = checkInput(newTableSchema, request.body)
    const table = checkTable(given)
    const lines = passGate(firstValues(table), override)
    const added = await addTable(
      store,
      job.id,
      { name, cylinder: cylinder ?? null, table },
      reason ?? 'As it was at first',
      { override: lines.length ? override! : null, lines },
    )
    response.status(201).location(`/api/v1/jobs/${job.id}/tables/${added.id}`).json(added)
  })
  router.get('/jobs/:job/tables/:table', async (request, response) => {
    const table = await findTable(store, param(request, 'job'), param(request, 'table'))
    if (!table) throw notFound('table')
    response.json(table)
  })
  router.patch('/jobs/:job/tables/:table', async (request, response) => {
    const job = await jobOf(request, context)
    const change = checkInput(tableChangeSchema, request.body)
    const table = await changeTable(store, job.id, param(request, 'table'), change)
    if (!table) throw notFound('table')
    response.json(table)
  })
  router.post('/jobs/:job/tables/:table/revisions/check', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = { ...checkInput(newRevisionSchema, request.body), table: param(request, 'table') }
    const found = await judgeRevision(context, job, asked)
    if (!found) throw notFound('table')
    const { steps, from } = found.judged
    response.json({
      steps: steps.map((step) => ({ ...step, size: Number.isFinite(step.size) ? step.size : null })),
      from,
      text: steps.length ? largeStepsText(steps, from) : '',
    })
  })
  router.post('/jobs/:job/tables/:table/revisions', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = { ...checkInput(newRevisionSchema, request.body), table: param(request, 'table') }
    const saved = await saveRevisions(context, job, [asked])
    if (!saved) throw notFound('table')
    response.status(201).json(saved[0])
  })
  router.post('/jobs/:job/revisions', async (request, response) => {
    const job = await jobOf(request, context)
    const { revisions } = checkInput(newRevisionsSchema, request.body)
    const twice = revisions.findIndex(({ table }, k) => revisions.findIndex((one) => one.table === table) < k)
    if (twice >= 0)
      throw new InputError([{ field: `revisions[${twice}].table`, message: 'is named twice: one revision a table' }])
    const saved = await saveRevisions(context, job, revisions, (place) => `revisions[${place}].`)
    if (!saved) throw notFound('table')
    response.status(201).json(saved)
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
