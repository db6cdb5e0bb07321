import { compareQuestion, type ComparedAnswer, type CompareRequest, type Job, type SetLoader } from '@yuzumix/core'
import type { Store } from '../../store/database'
import { findJob } from '../../store/jobs'
import { listRuns } from '../../store/runs'
import { findSet } from '../../store/sets'
import { ask, type Workshop } from './ask'

/** Brings sets of any job out of the store. */
const setsOf =
  (store: Store): SetLoader =>
  async (id) => {
    const set = await findSet(store, id)
    const job = set && (await findJob(store, set.job))
    return job && { job, set, runs: await listRuns(store, job.id) }
  }

/**
 * One set against another, or against several stock machines, as a request asks.
 *
 * @throws Refusal as `compareQuestion` and `answerCompare`
 */
export async function compareSets(
  workshop: Workshop,
  job: Job,
  asked: CompareRequest,
  signal: AbortSignal,
): Promise<ComparedAnswer> {
  return ask(workshop, 'compare', await compareQuestion(job, setsOf(workshop.store), asked), signal)
}
