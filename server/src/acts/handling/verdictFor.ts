import { unlessRefused, fieldQuestion, planOf, retuneVerdict, type Job, type Verdict } from '@yuzumix/core'
import { ask, groundOf, loaderOf, type Workshop } from '../questions/ask'
import { doubtsFor } from './doubtsFor'
import { findingsFor } from '../report/findingsFor'
import { stateWords } from '../report/passes'

/** Whether a job needs a retune, from its parts, or from its runs once there are enough. */
export async function verdictFor(workshop: Workshop, job: Job, signal: AbortSignal): Promise<Verdict> {
  const ground = await groundOf(workshop.store, job)
  const question = await fieldQuestion(ground, loaderOf(workshop.store))
  const { runs } = question
  const field = runs.length ? await unlessRefused(() => ask(workshop, 'field', question, signal), 'no-field') : null
  const [findings, doubts] = await Promise.all([
    findingsFor(workshop, job, runs, field, signal),
    doubtsFor(workshop, job, runs, field, signal),
  ])
  const set = ground.sets.find((one) => one.id === runs[0]?.set)
  const on = runs[0] ? stateWords(runs[0], ground.tables) : ''
  return {
    ...retuneVerdict(job, field, runs.length, planOf(ground).choice, doubts.length),
    state: set ? [set.name, on && `made on ${on}`].filter(Boolean).join(', ') : null,
    findings: findings.map((one) => one.text),
  }
}
