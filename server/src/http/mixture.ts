import { Router, type Request } from 'express'
import {
  cellsSince,
  changeRequestSchema,
  checkInput,
  DEFAULT_LIMITS,
  fieldAnswer,
  fieldRequestSchema,
  InputError,
  madeOnNewest,
  movedSince,
  needsState,
  nextRunRequestSchema,
  changeShape,
  suggestChange,
  type TableInfo,
  type TableSince,
} from '@yuzumix/core'
import { flatnessFor } from '../acts/flatnessFor'
import { nextRunFor } from '../acts/nextRunFor'
import { fieldFor, fieldRunsOf, runsFor } from '../acts/fieldFor'
import { findRevision, findTable, listTables } from '../store/tables'
import { goneSignal, jobOf, type Context } from './context'
import { notFound } from './problem'

/** Fuel tables of a job that moved since some runs were made, as they were then and as they are now. */
async function tablesSince(
  { store }: Context,
  tables: readonly TableInfo[],
  revisions: ReadonlyMap<string, number>,
): Promise<(TableSince & { id: string; revision: number })[]> {
  return Promise.all(
    movedSince(tables, revisions).map(async ({ info: { job, id, cylinder, table }, n }) => {
      const then = (await findRevision(store, job, id, n))!.table
      return { id, revision: n, cylinder, then, now: table }
    }),
  )
}

async function changeFor(context: Context, request: Request): Promise<unknown> {
  const job = await jobOf(request, context)
  const { table: id, revision, cylinder, limits, ...asked } = checkInput(changeRequestSchema, request.body)
  const info = await findTable(context.store, job.id, id)
  const state =
    info && (revision === undefined ? { table: info.table } : await findRevision(context.store, job.id, id, revision))
  if (!info || !state) throw notFound(info ? 'revision' : 'table')
  if (!info.table.kind.startsWith('fuel'))
    throw new InputError([
      { field: 'table', message: `is a ${info.table.kind} table; only fuel tables can be corrected here` },
    ])
  const { rpm, load, loadAxis } = info.table
  const tables = (await listTables(context.store, job.id))
    .filter((one) => one.table.kind.startsWith('fuel'))
    .map((one) => (one.id === id ? { ...one, table: state.table } : one))
  const runs = asked.runs ? await runsFor(context, job, asked.runs) : await fieldRunsOf(context, job)
  needsState(runs, tables)
  const made = madeOnNewest(runs, tables)
  const field = await fieldFor(
    context,
    job,
    made.runs,
    { ...asked, rpm, load, loadAxis },
    info.table,
    goneSignal(request),
  )
  const told = field.cylinders.map((one) => one.cylinder)
  if (cylinder != null && !told.includes(cylinder))
    throw new InputError([{ field: 'cylinder', message: `is not in the runs: they tell of ${told.join(', ')}` }])
  const since = await tablesSince(context, tables, made.revisions)
  const own = since.find((one) => one.id === id)
  const all = { ...DEFAULT_LIMITS, ...limits }
  const suggested = suggestChange(state.table, field, all, cylinder ?? info.cylinder, since)
  return {
    table: id,
    field: fieldAnswer(field),
    measuredOn: {
      revision: made.revisions.get(id) ?? null,
      latest: info.revisions.at(-1)!.n,
      changedCells: own ? cellsSince(own) : 0,
      olderRuns: made.older.map((run) => run.id),
    },
    ...suggested,
    shape: changeShape(state.table, suggested),
  }
}

export function mixtureRoutes(context: Context): Router {
  const router = Router()
  router.post('/jobs/:job/field', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(fieldRequestSchema, request.body ?? {})
    const runs = await runsFor(context, job, asked.runs)
    response.json(fieldAnswer(await fieldFor(context, job, runs, asked, null, goneSignal(request))))
  })
  router.post('/jobs/:job/flatness', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(fieldRequestSchema, request.body ?? {})
    response.json(await flatnessFor(context, job, asked, goneSignal(request)))
  })
  router.post('/jobs/:job/next-run', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(nextRunRequestSchema, request.body ?? {})
    response.json(await nextRunFor(context, job, asked, goneSignal(request)))
  })
  router.post('/jobs/:job/change', async (request, response) => {
    response.json(await changeFor(context, request))
  })
  return router
}
