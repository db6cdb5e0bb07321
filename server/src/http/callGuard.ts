import type { Request, RequestHandler } from 'express'
import { callsAt, type ProblemFault } from '@yuzumix/core'
import { Problem } from './problem'

/** A problem that names the methods an address has, as RFC 9110 wants it. */
class NoSuchMethod extends Problem {
  constructor(readonly allow: string) {
    super(405, 'No such method', `This address does not know that method. It knows ${allow}.`)
  }
}

const hasBody = ({ headers }: Request): boolean =>
  headers['transfer-encoding'] !== undefined || Number(headers['content-length'] ?? 0) > 0

/**
 * Holds every request against the one list of calls: its method, the kind of its body and the names in its query. What the list
 * does not know goes on to where unknown addresses end.
 *
 * @see RFC 9110, 15.5.6 (405 with Allow) and 15.5.16 (415)
 */
export const callGuard: RequestHandler = (request, response, next) => {
  const here = callsAt(request.path.replace(/(.)\/$/, '$1'))
  if (here.length === 0) return next()
  // A HEAD is a GET without its body.
  const method = request.method === 'HEAD' ? 'get' : request.method.toLowerCase()
  const call = here.find((one) => one.method === method)
  if (!call) {
    const allow = here.map((one) => one.method.toUpperCase()).join(', ')
    response.set('Allow', allow)
    throw new NoSuchMethod(allow)
  }
  if (hasBody(request)) {
    if (call.form && !request.is('multipart/form-data'))
      throw new Problem(415, 'A form is wanted', 'Send the file as multipart/form-data, in the part "file".')
    if (!call.form && !request.is('application/json'))
      throw new Problem(415, 'JSON is wanted', 'Send the body as JSON, with Content-Type application/json.')
  }
  const known = Object.keys(call.query ?? {}).map((name) => name.replace('?', ''))
  const unknown = Object.keys(request.query).filter((name) => !known.includes(name))
  if (unknown.length)
    throw new Problem(
      400,
      'Input refused',
      `query: ${unknown.map((name) => name.slice(0, 40)).join(', ')} ${unknown.length === 1 ? 'is' : 'are'} not known here.`,
      unknown.map((name): ProblemFault => ({
        field: name.slice(0, 40),
        message: known.length
          ? `is not known: this call takes ${known.join(', ')}`
          : 'is not known: this call takes none',
      })),
    )
  next()
}
