import { FieldError, jobPlanChoice, retuneVerdict, type Job, type Verdict } from '@yuzumix/core'
import { listRuns } from '../store/runs'
import { listSets } from '../store/sets'
import { listTables } from '../store/tables'
import { doubtsFor } from './doubtsFor'
import { findingsFor } from './report/findingsFor'
import { stateWords } from './report/passes'
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
  const [sets, tables] = await Promise.all([listSets(workshop.store, job.id), listTables(workshop.store, job.id)])
  const set = sets.find((one) => one.id === runs[0]?.set)
  const on = runs[0] ? stateWords(runs[0], tables) : ''
  return {
    ...retuneVerdict(job, field, runs.length, choice, doubts.length),
    state: set ? [set.name, on && `made on ${on}`].filter(Boolean).join(', ') : null,
    findings: findings.map((one) => one.text),
  }
}
