import type { ErrorRequestHandler, RequestHandler } from 'express'
import multer from 'multer'
import type { Logger } from 'pino'
import type { ProblemFault } from '@yuzumix/core'

/** An answer that is a problem document (RFC 9457). */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    readonly faults: readonly ProblemFault[] = [],
    readonly more: Record<string, unknown> = {},
  ) {
    super(detail)
  }
}

/** A 404 that says what was not found. */
export function notFound(what: string): Problem {
  return new Problem(404, 'Not found', `There is no such ${what}. It may have been deleted.`)
}

/** An error that says by itself what it means to whoever asked. */
interface Refusal extends Error {
  status: number
  title: string
  /** instead of the message */
  detail?: string
  faults?: readonly ProblemFault[]
  more?: Record<string, unknown>
}
function isRefusal(error: unknown): error is Refusal {
  const { status, title } = error as Partial<Refusal>
  return error instanceof Error && typeof status === 'number' && typeof title === 'string'
}

/** What a known error means to whoever asked; undefined for a fault of our own. */
function problemFrom(error: unknown): Problem | undefined {
  if (error instanceof Problem) return error
  if (isRefusal(error)) {
    const { status, title, message, detail = message, faults, more } = error
    return new Problem(status, title, detail, faults, more)
  }
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

/** A name for a kind of problem, by which two of one status differ: /problems/handed-over. */
const typeOf = (title: string): string =>
  `/problems/${title
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')}`

/** Turns every error into a problem document. Faults of our own are logged and told without their insides. */
export function problemHandler(log: Logger): ErrorRequestHandler {
  return (error, _request, response, next) => {
    if (response.headersSent) return next(error)
    // Whoever asked has gone, and what was being worked out for them was called off: no fault, and nobody to tell.
    if (response.destroyed && (error as Error).name === 'AbortError') return
    let problem = problemFrom(error)
    if (!problem) {
      log.error(error)
      problem = new Problem(
        500,
        'Fault in Yuzumix',
        'Something went wrong inside. Nothing was stored by this request; try again, and keep the log if it stays.',
      )
    }
    const { status, title, detail, faults: errors, more } = problem
    response
      .status(status)
      .type('application/problem+json')
      .send(JSON.stringify({ type: typeOf(title), title, status, detail, errors, ...more }))
  }
}

/** The answer to any address under the interface that does not exist. */
export const unknownAddress: RequestHandler = () => {
  throw notFound('address')
}
