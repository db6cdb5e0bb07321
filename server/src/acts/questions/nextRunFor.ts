import {
  isRefusal,
  isGateRefusal,
  needsState,
  nextRunQuestion,
  type HelpfulRun,
  type Job,
  type NextOfJob,
  type NextRunRequest,
  type RunInfo,
} from '@yuzumix/core'
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

/** What would help most next, or in words why that cannot be told yet. */
export async function nextOfPlan(
  workshop: Workshop,
  job: Job,
  runs: readonly RunInfo[],
  signal: AbortSignal,
): Promise<{ next: HelpfulRun[]; note: string | null }> {
  const unknown = 'Nothing is known of the mixture yet: begin with the first run of the plan.'
  if (runs.length === 0) return { next: [], note: unknown }
  try {
    const { ranked: next, enough, afterLimits } = await nextRunFor(workshop, job, {}, signal)
    const settled =
      enough && !afterLimits
        ? 'All that matters is settled: no run would tell more worth its time.'
        : 'No run tells more before the change is taken.'
    return { next, note: next.length ? null : settled }
  } catch (error) {
    if (isGateRefusal(error)) return { next: [], note: error.message }
    if (!isRefusal(error, 'no-field')) throw error
    return { next: [], note: unknown }
  }
}
