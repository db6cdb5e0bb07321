import type { RequestHandler } from 'express'
import { callOf, TABLE_STEPS } from '@yuzumix/core'
import type { Store } from '../store/database'
import { findJob } from '../store/jobs'
import { Problem } from './problem'

/** Dangers of calls that change a machine, which licensed work leaves to a licensed mechanic. */
const CHANGING: readonly string[] = [...TABLE_STEPS, 'table values', 'engine running', 'unproven start']

/** Refuses writes to a job that was handed over, and changes to licensed work. */
export function jobGuard(store: Store): RequestHandler<{ job: string }> {
  return async (request, _response, next) => {
    const gate =
      callOf(request.method, `/jobs/${request.params.job}${request.path}`.replace(/\/$/, ''))?.gate ?? 'records'
    if (request.method === 'GET' || gate === 'asks' || request.path === '/reopen') return next()
    const job = await findJob(store, request.params.job)
    if (job?.doneAt)
      throw new Problem(409, 'Handed over', 'The job was handed over and is read-only. Reopen it first.', [
        { field: 'job', message: 'reopen it first' },
      ])
    if (job?.limits?.licensed && typeof gate !== 'string' && gate.some((one) => CHANGING.includes(one)))
      throw new Problem(
        409,
        'Licensed work',
        'The brief says licensed work: read and record only. Changes are for a licensed mechanic under the rules that apply.',
        [{ field: 'limits.licensed', message: 'is set in the brief' }],
      )
    next()
  }
}
