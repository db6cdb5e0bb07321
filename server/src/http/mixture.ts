import { Router, type Request } from 'express'
import {
  changeRequestSchema,
  checkInput,
  DEFAULT_LIMITS,
  fieldAnswer,
  fieldRequestSchema,
  fieldRuns,
  fieldSet,
  InputError,
  jobTarget,
  settleFieldOptions,
  suggestChange,
  type ChangeRequest,
  type Field,
  type FieldRequest,
  type Job,
  type LoadGrid,
} from '@yuzumix/core'
import { listRuns, loadColumns } from '../store/runs'
import { listSets } from '../store/sets'
import { findRevision, findTable, listTables } from '../store/tables'
import { goneSignal, jobOf, type Context } from './context'
import { notFound, Problem } from './problem'

/** The field that a request asks for, on a table's breakpoints when one is given. */
export async function fieldFor(
  context: Context,
  job: Job,
  request: FieldRequest,
  table: LoadGrid | null,
  signal: AbortSignal,
): Promise<Field> {
  const all = await listRuns(context.store, job.id)
  const unknown = request.runs?.filter((id) => !all.some((run) => run.id === id)) ?? []
  if (unknown.length)
    throw new InputError(
      unknown.map((id) => ({ field: 'runs', message: `there is no run ${id.slice(0, 40)} in this job` })),
    )
  const runs = request.runs
    ? all.filter((run) => request.runs!.includes(run.id))
    : fieldRuns(job.mixture, fieldSet(job.mixture, await listSets(context.store, job.id), all), all)
  if (runs.length === 0)
    throw new Problem(
      422,
      'No field can be made',
      'There are no runs to estimate from. Add a run, or choose at least one.',
      [{ field: 'runs', message: 'none chosen' }],
    )
  const highest = (channel: string): number =>
    Math.max(0, ...runs.flatMap((run) => run.channels.filter((one) => one.channel === channel).map((one) => one.max)))
  const grid =
    table ?? (await listTables(context.store, job.id)).find((one) => one.table.kind.startsWith('fuel'))?.table ?? null
  const options = settleFieldOptions(request, {
    mixture: table ? { ...job.mixture, breakpoints: null } : job.mixture,
    target: jobTarget(job),
    table: grid,
    highestRpm: highest('rpm'),
    hasThrottle: runs.some((run) => run.channels.some((one) => one.channel === 'throttle')),
  })
  return context.pool.solveField(await loadColumns(context.store, runs), options, signal)
}

async function changeFor(context: Context, request: Request): Promise<unknown> {
  const job = await jobOf(request, context)
  const {
    table: id,
    revision,
    cylinder,
    limits,
    ...asked
  } = checkInput<unknown>(changeRequestSchema, request.body) as ChangeRequest
  const info = await findTable(context.store, job.id, id)
  const state =
    info && (revision === undefined ? { table: info.table } : await findRevision(context.store, job.id, id, revision))
  if (!info || !state) throw notFound(info ? 'revision' : 'table')
  if (!info.table.kind.startsWith('fuel'))
    throw new InputError([
      { field: 'table', message: `is a ${info.table.kind} table; only fuel tables can be corrected here` },
    ])
  const { rpm, load, loadAxis } = info.table
  const field = await fieldFor(context, job, { ...asked, rpm, load, loadAxis }, info.table, goneSignal(request))
  const suggested = suggestChange(state.table, field, { ...DEFAULT_LIMITS, ...limits }, cylinder ?? info.cylinder)
  return { table: id, field: fieldAnswer(field), ...suggested }
}

export function mixtureRoutes(context: Context): Router {
  const router = Router()
  router.post('/jobs/:job/field', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput<unknown>(fieldRequestSchema, request.body ?? {}) as FieldRequest
    response.json(fieldAnswer(await fieldFor(context, job, asked, null, goneSignal(request))))
  })
  router.post('/jobs/:job/change', async (request, response) => {
    response.json(await changeFor(context, request))
  })
  return router
}
