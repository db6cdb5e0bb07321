import { FieldError, jobPlanChoice, retuneVerdict, type Job, type Verdict } from '@yuzumix/core'
import { listRuns } from '../store/runs'
import { listTables } from '../store/tables'
import { doubtsFor } from './doubtsFor'
import { findingsFor } from './findingsFor'
import { fieldFor, runsFor, type Workshop } from './fieldFor'

/** Whether a job needs a retune, from its parts, or from its runs once there are enough. */
export async function verdictFor(workshop: Workshop, job: Job, signal: AbortSignal): Promise<Verdict> {
  const [runs, all] = await Promise.all([runsFor(workshop, job, undefined), listRuns(workshop.store, job.id)])
  const choice = jobPlanChoice({ job, runs: all, tables: await listTables(workshop.store, job.id) })
  const field = runs.length
    ? await fieldFor(workshop, job, runs, {}, null, signal).catch((error: Error) => {
        if (error instanceof FieldError) return null
        throw error
      })
    : null
  const [findings, doubts] = await Promise.all([
    findingsFor(workshop, job, runs, field, signal),
    doubtsFor(workshop, job, runs, field, signal),
  ])
  return { ...retuneVerdict(job, field, runs.length, choice, doubts.length), findings: findings.map((one) => one.text) }
}
