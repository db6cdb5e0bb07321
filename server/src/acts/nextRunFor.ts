import { needsState, nextRunQuestion, type Job, type NextOfJob, type NextRunRequest } from '@yuzumix/core'
import { ask, groundOf, loaderOf, type Workshop } from './ask'

/** The run that takes most doubt away per minute, from all runs on the present hardware and the tables as they are now. */
export async function nextRunFor(
  workshop: Workshop,
  job: Job,
  asked: NextRunRequest,
  signal: AbortSignal,
): Promise<NextOfJob> {
  const ground = await groundOf(workshop.store, job)
  const question = await nextRunQuestion(ground, loaderOf(workshop.store), asked)
  needsState(question.untold, ground.tables)
  return ask(workshop, 'next run', question, signal)
}
