import type { RequestHandler } from 'express'
import type { Store } from '../store/database'
import { findJob } from '../store/jobs'
import { Problem } from './problem'

/** Calls that only work something out, though they carry a body. */
const ASKING =
  /^\/(columns|field|next-run|change|compare|flatness|response|plate|reopen|tables\/[^/]+\/(against-shelf|revisions\/check))$/
/** Calls that change a machine, which licensed work leaves to a licensed mechanic. */
const CHANGING = /^\/(tables|revisions|shelf-start|tables\/[^/]+\/revisions|bench\/(tables\/[^/]+|keep|restore))$/

/** Refuses writes to a job that was handed over, and changes to licensed work. */
export function jobGuard(store: Store): RequestHandler<{ job: string }> {
  return async (request, _response, next) => {
    if (request.method === 'GET' || ASKING.test(request.path)) return next()
    const job = await findJob(store, request.params.job)
    if (job?.doneAt)
      throw new Problem(409, 'Handed over', 'The job was handed over and is read-only. Reopen it first.', [
        { field: 'job', message: 'reopen it first' },
      ])
    if (job?.limits?.licensed && CHANGING.test(request.path))
      throw new Problem(
        409,
        'Licensed work',
        'The brief says licensed work: read and record only. Changes are for a licensed mechanic under the rules that apply.',
        [{ field: 'limits.licensed', message: 'is set in the brief' }],
      )
    next()
  }
}
