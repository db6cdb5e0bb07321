import type { Request } from 'express'
import type { Job } from '@yuzumix/core'
import type { Workshop } from '../acts/ask'
import { findJob } from '../store/jobs'
import { notFound } from './problem'

/** What every router works with. */
export type Context = Workshop

/** One parameter of the address. */
export function param(request: Request, name: string): string {
  return String(request.params[name])
}

/** The job of the address. @throws Problem 404 */
export async function jobOf(request: Request, { store }: Context): Promise<Job> {
  const job = await findJob(store, param(request, 'job'))
  if (!job) throw notFound('job')
  return job
}

/** A signal that aborts when the client goes away before the answer. */
export function goneSignal(request: Request): AbortSignal {
  const controller = new AbortController()
  const response = request.res!
  // The client may have gone while its file was still being taken in.
  if (response.destroyed) controller.abort()
  response.on('close', () => {
    if (!response.writableEnded) controller.abort()
  })
  return controller.signal
}
