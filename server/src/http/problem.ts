import type { ErrorRequestHandler, RequestHandler } from 'express'
import multer from 'multer'
import type { Logger } from 'pino'
import { ForeignKeyConstraintError } from 'sequelize'
import { isRefusal, Refusal, refused } from '@yuzumix/core'
import { fullDiskWords, isDiskFull } from '../folder/space'
import { STATUS_OF } from './statusOf'

/** A refusal that says what was not found. */
export const notFound = (what: string): Refusal =>
  new Refusal('not-found', `There is no such ${what}. It may have been deleted.`)

/** What is wrong with a form, for people. */
const UPLOAD_WORDS: Partial<Record<string, string>> = {
  LIMIT_FILE_SIZE: 'The file is too large.',
  LIMIT_UNEXPECTED_FILE: 'Send one file in the part "file".',
  LIMIT_PART_COUNT: 'The form has too many parts.',
  LIMIT_FILE_COUNT: 'Send one file in the part "file".',
  LIMIT_FIELD_KEY: 'The name of a part is too long.',
  LIMIT_FIELD_VALUE: 'A part of the form is too long.',
  LIMIT_FIELD_COUNT: 'The form has too many parts.',
  MISSING_FIELD_NAME: 'A part of the form has no name.',
}
/** What is said of a form that cannot be taken apart: the parser's own words help nobody. */
export const UPLOAD_BROKEN =
  'The form is broken or was cut off: send it again, as multipart/form-data with its boundary.'

/** What a known error means to whoever asked; undefined for a fault of our own. */
function refusalFrom(error: unknown, bytes = 0): Refusal | undefined {
  if (isRefusal(error)) return error
  if (error instanceof multer.MulterError) {
    const isLarge = error.code === 'LIMIT_FILE_SIZE'
    return refused(
      isLarge ? 'too-large' : 'upload-refused',
      UPLOAD_WORDS[error.code] ?? UPLOAD_BROKEN,
      error.field ?? 'file',
    )
  }
  if (isDiskFull(error)) return new Refusal('disk-full', fullDiskWords(bytes))
  const { type, status } = error as { type?: string; status?: number }
  if (type === 'entity.parse.failed')
    return new Refusal('not-json', 'The body is not JSON. Send valid JSON with Content-Type application/json.')
  if (type === 'entity.too.large') return new Refusal('too-large', 'The body is too large.')
  // What it belongs to was there when it was asked, and went before it was stored.
  if (error instanceof ForeignKeyConstraintError)
    return new Refusal('not-found', 'What this belongs to was deleted meanwhile. Nothing was stored.')
  if (error instanceof URIError) return new Refusal('bad-address', 'The address cannot be decoded.')
  if (status !== undefined && status >= 400 && status < 500)
    return new Refusal('unreadable', 'The request cannot be understood.')
  return undefined
}

/** Turns every error into a problem document. Faults of our own are logged and told without their insides. */
export function problemHandler(log: Logger): ErrorRequestHandler {
  return (error, request, response, next) => {
    // Whoever was sent a file has gone before its end.
    if ((error as { code?: string }).code === 'ERR_STREAM_PREMATURE_CLOSE') return void response.destroy()
    if (response.headersSent) return next(error)
    // Whoever asked has gone, and what was being worked out for them was called off: no fault, and nobody to tell.
    if (response.destroyed && (error as Error).name === 'AbortError') return
    let refusal = refusalFrom(error, Number(request.headers?.['content-length'] ?? 0))
    if (!refusal) {
      const { id } = request as { id?: string | number }
      log.error({ err: error, id })
      refusal = new Refusal(
        'fault',
        `Something went wrong inside (fault ${id ?? 'unknown'}). Nothing was stored by this request; try again, and keep the log if it stays: it has that number.`,
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
