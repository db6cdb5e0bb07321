import type { Request, RequestHandler } from 'express'
import { Refusal, callsAt, type Fault } from '@yuzumix/core'

const hasBody = ({ headers }: Request): boolean =>
  headers['transfer-encoding'] !== undefined || Number(headers['content-length'] ?? 0) > 0

/**
 * Holds every request against the one list of calls: its method, the kind of its body and the names in its query. What the list
 * does not know goes on to where unknown addresses end.
 *
 * @see RFC 9110, 15.5.6 (405 with Allow) and 15.5.16 (415)
 */
export const callGuard: RequestHandler = (request, response, next) => {
  if (request.path.includes('%00')) throw new Refusal('bad-address', 'The address holds a sign that no name has.')
  const here = callsAt(request.path.replace(/(.)\/$/, '$1'))
  if (here.length === 0) return next()
  // A HEAD is a GET without its body.
  const method = request.method === 'HEAD' ? 'get' : request.method.toLowerCase()
  const call = here.find((one) => one.method === method)
  if (!call) {
    const allow = here.map((one) => one.method.toUpperCase()).join(', ')
    response.set('Allow', allow)
    throw new Refusal('no-such-method', `This address does not know that method. It knows ${allow}.`)
  }
  if (hasBody(request)) {
    if (call.form && !request.is('multipart/form-data'))
      throw new Refusal('form-wanted', 'Send the file as multipart/form-data, in the part "file".')
    // Libraries send an empty object where they have nothing to say.
    if (!call.form && !call.body && Number(request.headers['content-length'] ?? Infinity) > '{}'.length)
      throw new Refusal('no-body-wanted', 'This call takes no body: nothing of it would be read. Send it without one.')
    if (!call.form && !request.is('application/json'))
      throw new Refusal('json-wanted', 'Send the body as JSON, with Content-Type application/json.')
  }
  const known = Object.keys(call.query ?? {}).map((name) => name.replace('?', ''))
  const unknown = Object.keys(request.query).filter((name) => !known.includes(name))
  if (unknown.length)
    throw new Refusal(
      'input-refused',
      `query: ${unknown.map((name) => name.slice(0, 40)).join(', ')} ${unknown.length === 1 ? 'is' : 'are'} not known here.`,
      unknown.map((name): Fault => ({
        field: name.slice(0, 40),
        message: known.length
          ? `is not known: this call takes ${known.join(', ')}`
          : 'is not known: this call takes none',
      })),
    )
  next()
}
