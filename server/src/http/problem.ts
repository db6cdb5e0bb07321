import type { ErrorRequestHandler, RequestHandler } from 'express'
import multer from 'multer'
import type { Logger } from 'pino'
import { isRefusal, Refusal, refused } from '@yuzumix/core'
import { STATUS_OF } from './statusOf'

/** A refusal that says what was not found. */
export const notFound = (what: string): Refusal =>
  new Refusal('not-found', `There is no such ${what}. It may have been deleted.`)

/** What a known error means to whoever asked; undefined for a fault of our own. */
function refusalFrom(error: unknown): Refusal | undefined {
  if (isRefusal(error)) return error
  if (error instanceof multer.MulterError) {
    const isLarge = error.code === 'LIMIT_FILE_SIZE'
    const message = isLarge
      ? 'The file is too large.'
      : error.code === 'LIMIT_UNEXPECTED_FILE'
        ? 'Send one file in the part "file".'
        : error.message
    return refused(isLarge ? 'too-large' : 'upload-refused', message, error.field ?? 'file')
  }
  const { type, status } = error as { type?: string; status?: number }
  if (type === 'entity.parse.failed')
    return new Refusal('not-json', 'The body is not JSON. Send valid JSON with Content-Type application/json.')
  if (type === 'entity.too.large') return new Refusal('too-large', 'The body is too large.')
  if (error instanceof URIError) return new Refusal('bad-address', 'The address cannot be decoded.')
  if (status !== undefined && status >= 400 && status < 500)
    return new Refusal('unreadable', 'The request cannot be understood.')
  return undefined
}

/** Turns every error into a problem document. Faults of our own are logged and told without their insides. */
export function problemHandler(log: Logger): ErrorRequestHandler {
  return (error, _request, response, next) => {
    if (response.headersSent) return next(error)
    // Whoever asked has gone, and what was being worked out for them was called off: no fault, and nobody to tell.
    if (response.destroyed && (error as Error).name === 'AbortError') return
    let refusal = refusalFrom(error)
    if (!refusal) {
      log.error(error)
      refusal = new Refusal(
        'fault',
        'Something went wrong inside. Nothing was stored by this request; try again, and keep the log if it stays.',
      )
    }
    const { code, title, message: detail, faults: errors, more } = refusal
    const status = STATUS_OF[code]
    response
      .status(status)
      .type('application/problem+json')
      .send(JSON.stringify({ type: `/problems/${code}`, title, status, detail, errors, ...more }))
  }
}

/** The answer to any address under the interface that does not exist. */
export const unknownAddress: RequestHandler = () => {
  throw notFound('address')
}
