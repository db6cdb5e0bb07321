import type { ErrorRequestHandler, RequestHandler } from 'express'
import multer from 'multer'
import type { Logger } from 'pino'
import { CompareError, FieldError, InputError, LogError, TableError } from '@yuzumix/core'
import { TooLarge } from '../acts/judgeSteps'
import { ArchiveError } from '../archive/format'
import { RigRefusal } from '../rigs/rigLink'
import { NoSuchSet } from '../store/runs'
import { SetInUse } from '../store/sets'
import { NoSuchRevision, StaleRevision } from '../store/tables'

/** One thing at fault, in an answer. */
interface Fault {
  message: string
  field?: string
  line?: number
  column?: number
}

/** An answer that is a problem document (RFC 9457). */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    readonly errors: readonly Fault[] = [],
    readonly more: Record<string, unknown> = {},
  ) {
    super(detail)
  }
}

/** A 404 that says what was not found. */
export function notFound(what: string): Problem {
  return new Problem(404, 'Not found', `There is no such ${what}. It may have been deleted.`)
}

/** What a known error means to whoever asked; undefined for a fault of our own. */
function problemFrom(error: unknown): Problem | undefined {
  if (error instanceof Problem) return error
  if (error instanceof InputError) {
    return new Problem(
      400,
      'Input refused',
      error.faults.map(({ field, message }) => `${field} ${message}`).join('; ') + '.',
      error.faults,
    )
  }
  if (error instanceof LogError) return new Problem(422, 'The log cannot be read', error.message, error.faults)
  if (error instanceof TableError) return new Problem(422, 'The table cannot be read', error.message, error.faults)
  if (error instanceof ArchiveError)
    return new Problem(422, 'The archive cannot be read', error.message, [
      { message: error.message, field: error.field },
    ])
  if (error instanceof FieldError)
    return new Problem(422, 'No field can be made', error.message, [{ field: error.field, message: error.message }])
  if (error instanceof CompareError)
    return new Problem(422, 'Nothing can be compared', error.message, [{ field: 'second', message: error.message }])
  if (error instanceof NoSuchRevision)
    return new Problem(400, 'Input refused', `revisions: ${error.message}.`, [
      { field: 'revisions', message: error.message },
    ])
  if (error instanceof NoSuchSet)
    return new Problem(400, 'Input refused', `set: ${error.message}.`, [{ field: 'set', message: error.message }])
  if (error instanceof RigRefusal)
    return new Problem(409, 'Refused by the bench', error.message, [{ field: error.field, message: error.message }])
  if (error instanceof SetInUse)
    return new Problem(409, 'The set has runs', error.message, [{ field: 'set', message: error.message }])
  if (error instanceof StaleRevision) {
    return new Problem(
      409,
      'Another revision was saved',
      `${error.message} Compare with it, then save again.`,
      [{ field: 'parent', message: `the latest is ${error.latest}` }],
      { latest: error.latest },
    )
  }
  if (error instanceof TooLarge)
    return new Problem(
      error.status,
      error.title,
      error.message,
      [{ field: 'override', message: 'say why this step must be taken at once' }, ...error.faults],
      { steps: error.steps },
    )
  if (error instanceof multer.MulterError) {
    const message =
      error.code === 'LIMIT_FILE_SIZE'
        ? 'The file is too large.'
        : error.code === 'LIMIT_UNEXPECTED_FILE'
          ? 'Send one file in the part "file".'
          : error.message
    return new Problem(error.code === 'LIMIT_FILE_SIZE' ? 413 : 400, 'Upload refused', message, [
      { field: error.field ?? 'file', message },
    ])
  }
  const { type, status } = error as { type?: string; status?: number }
  if (type === 'entity.parse.failed')
    return new Problem(400, 'Not JSON', 'The body is not JSON. Send valid JSON with Content-Type application/json.')
  if (type === 'entity.too.large') return new Problem(413, 'Too large', 'The body is too large.')
  if (error instanceof URIError) return new Problem(400, 'Bad address', 'The address cannot be decoded.')
  if (status !== undefined && status >= 400 && status < 500)
    return new Problem(status, 'Request refused', 'The request cannot be understood.')
  return undefined
}

/** Turns every error into a problem document. Faults of our own are logged and told without their insides. */
export function problemHandler(log: Logger): ErrorRequestHandler {
  return (error, _request, response, next) => {
    if (response.headersSent) return next(error)
    let problem = problemFrom(error)
    if (!problem) {
      log.error(error)
      problem = new Problem(
        500,
        'Fault in Yuzumix',
        'Something went wrong inside. Nothing was stored by this request; try again, and keep the log if it stays.',
      )
    }
    const { status, title, detail, errors, more } = problem
    response
      .status(status)
      .type('application/problem+json')
      .send(JSON.stringify({ type: 'about:blank', title, status, detail, errors, ...more }))
  }
}

/** The answer to any address under the interface that does not exist. */
export const unknownAddress: RequestHandler = () => {
  throw notFound('address')
}
