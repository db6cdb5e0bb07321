import {
  complaintSpeeds,
  DEFAULT_RESPONSE,
  fieldSet,
  InputError,
  isLeftOut,
  type Job,
  type MadePlate,
  type PlateRequest,
  type ResponseAnswer,
  type ResponseChoice,
  type ResponseRequest,
  type RunInfo,
  type TableInfo,
  mayHaveLoop,
} from '@yuzumix/core'
import { loadColumns } from '../store/columns'
import { listRuns } from '../store/runs'
import { listSets } from '../store/sets'
import { listTables } from '../store/tables'
import { runsFor, type Workshop } from './fieldFor'
import { listComplaints } from './complaints'

/** Runs that tell how a machine answers the hand: those named, else those of a set, else of the field's set or the newest. */
async function runsAsked(workshop: Workshop, job: Job, { runs, set }: ResponseRequest): Promise<RunInfo[]> {
  if (runs) return runsFor(workshop, job, runs)
  const [all, sets] = await Promise.all([listRuns(workshop.store, job.id), listSets(workshop.store, job.id)])
  if (set !== undefined && !sets.some((one) => one.id === set))
    throw new InputError([{ field: 'set', message: `there is no set ${set.slice(0, 40)} in this job` }])
  const own =
    set ?? fieldSet(job.mixture, sets, all) ?? sets.findLast((one) => all.some((run) => run.set === one.id))?.id
  return all.filter((run) => run.set === own && !isLeftOut(run))
}

async function choiceFor({ store }: Workshop, job: Job, { lagMs, mode }: ResponseRequest): Promise<ResponseChoice> {
  const complaints = await listComplaints(store, job.id)
  const lag = lagMs ?? job.mixture.lagMs
  return {
    lag: lag === null ? null : lag / 1000,
    filters: { ...DEFAULT_RESPONSE.filters, ...job.mixture.filters, revCeiling: job.limits?.revCeiling ?? null },
    hasLoop: mayHaveLoop(job),
    mode: mode ?? null,
    complaints: complaintSpeeds(complaints),
    top: job.limits?.revCeiling ?? DEFAULT_RESPONSE.top,
  }
}

/** How a machine answers the hand, by runs of its job. */
export async function responseFor(
  workshop: Workshop,
  job: Job,
  asked: ResponseRequest,
  signal: AbortSignal,
): Promise<ResponseAnswer> {
  const runs = await runsAsked(workshop, job, asked)
  const choice = await choiceFor(workshop, job, asked)
  return workshop.pool.response({ runs: await loadColumns(workshop.store, runs, 'response'), choice }, signal)
}

/** A plate table of a shape. @throws ResponseError when there is nothing to start from */
export async function plateFor(
  workshop: Workshop,
  job: Job,
  { shape, share, curve, table, reason, ...asked }: PlateRequest,
  signal: AbortSignal,
): Promise<MadePlate> {
  if (shape === 'own' && !curve)
    throw new InputError([{ field: 'curve', message: 'is needed for a curve of your own' }])
  curve?.forEach((point, k) => {
    const before = curve[k - 1]
    if (before && !(point[0]! > before[0]! && point[1]! >= before[1]!))
      throw new InputError([
        { field: `curve[${k}]`, message: 'must lie further on in grip, and not lower, than the point before' },
      ])
  })
  const plates = (await listTables(workshop.store, job.id)).filter((one) => one.table.kind === 'plate')
  const own = plates.find((one) => one.id === table)
  if (table !== undefined && !own)
    throw new InputError([{ field: 'table', message: 'there is no such plate table in this job' }])
  const runs = await runsAsked(workshop, job, asked)
  const values = ({ table: { load, rpm, values: cells } }: TableInfo) => ({ grip: load, rpm, values: cells })
  return workshop.pool.plate(
    {
      runs: await loadColumns(workshop.store, runs, 'response'),
      asked: {
        wish: { shape, ...(share !== undefined && { share }), ...(curve && { curve: curve as [number, number][] }) },
        mode: asked.mode ?? null,
        now: own ? values(own) : null,
        others: plates.filter((one) => one !== own).map((one) => ({ name: one.name, table: values(one) })),
        reason: reason ?? null,
      },
    },
    signal,
  )
}
