import type { ErrorRequestHandler } from 'express'
import { isGateRefusal } from '@yuzumix/core'
import type { Store } from '../store/database'
import { findJob } from '../store/jobs'
import { noteRefused } from '../store/refused'

const JOB = /^\/jobs\/([^/]+)/

/** Writes what the gate refused into the logbook of the job of the address, and passes it on. */
export function refusalLog(store: Store): ErrorRequestHandler {
  return async (error: unknown, request, _response, next) => {
    const id = JOB.exec(request.path)?.[1]
    if (isGateRefusal(error) && id && (await findJob(store, id))) await noteRefused(store, id, error)
    next(error)
  }
}
