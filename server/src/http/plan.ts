import { Router } from 'express'
import {
  FieldError,
  GateRefusal,
  isLeftOut,
  mostRpm,
  planOf,
  rechecks,
  sweepsOfRun,
  type HelpfulRun,
  type Job,
  type MadeRun,
  type Recheck,
  type RunInfo,
} from '@yuzumix/core'
import { listRuns } from '../store/runs'
import { listTables, tableHistories } from '../store/tables'
import { goneSignal, jobOf, type Context } from './context'
import { groundOf } from '../acts/ask'
import { nextRunFor } from '../acts/nextRunFor'
import { Problem } from './problem'

/** What would help most next, or in words why that cannot be told yet. */
async function nextFor(
  context: Context,
  job: Job,
  runs: readonly RunInfo[],
  signal: AbortSignal,
): Promise<{ next: HelpfulRun[]; note: string | null }> {
  const unknown = 'Nothing is known of the mixture yet: begin with the first run of the plan.'
  if (runs.length === 0) return { next: [], note: unknown }
  try {
    const { ranked: next, enough, afterLimits } = await nextRunFor(context, job, {}, signal)
    const settled =
      enough && !afterLimits
        ? 'All that matters is settled: no run would tell more worth its time.'
        : 'No run tells more before the change is taken.'
    return { next, note: next.length ? null : settled }
  } catch (error) {
    if (error instanceof GateRefusal) return { next: [], note: error.message }
    if (!(error instanceof FieldError || error instanceof Problem)) throw error
    return { next: [], note: unknown }
  }
}

/** What has to be measured again because spark or mixture moved since. */
async function againFor(context: Context, job: Job, runs: readonly RunInfo[]): Promise<Recheck[]> {
  const made = runs
    .filter((run) => !isLeftOut(run) && run.facts)
    .flatMap(({ kind, facts, channels, createdAt: at }) =>
      sweepsOfRun(kind, facts!).map((one): MadeRun => ({
        kind: one.kind,
        stop: one.facts.stop,
        fromRpm: one.facts.fromRpm,
        toRpm: one.facts.toRpm,
        at,
        tellsMixture: channels.some(({ channel }) => channel === 'lambda1'),
      })),
    )
  const oldest = made.reduce((least, run) => (run.at < least ? run.at : least), new Date().toISOString())
  const most = mostRpm({ job, tables: await listTables(context.store, job.id) })
  return rechecks(await tableHistories(context.store, job.id, oldest), made, most)
}

export function planRoutes(context: Context): Router {
  const { store } = context
  const router = Router()
  router.get('/jobs/:job/rechecks', async (request, response) => {
    const job = await jobOf(request, context)
    response.json(await againFor(context, job, await listRuns(store, job.id)))
  })
  router.get('/jobs/:job/plan', async (request, response) => {
    const job = await jobOf(request, context)
    const ground = await groundOf(store, job)
    const { runs } = ground
    response.json({
      chosen: job.plan !== undefined,
      ...planOf(ground),
      again: await againFor(context, job, runs),
      ...(await nextFor(context, job, runs, goneSignal(request))),
    })
  })
  return router
}
