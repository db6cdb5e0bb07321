import type { RequestHandler } from 'express'
import type { IncomingHttpHeaders } from 'node:http'
import { Problem } from './problem'

const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]'])

/** Whether a request comes from a page of this server: its own name, and no other origin. */
export function isOwnPage({ host = '', origin }: IncomingHttpHeaders, open: boolean): boolean {
  if (!open && !LOOPBACK.has(host.replace(/:\d+$/, ''))) return false
  return !origin || (URL.canParse(origin) && new URL(origin).host === host)
}

/**
 * Refuses what a page of another origin could send: names that merely resolve to this machine, and foreign origins.
 *
 * @param open true when the server was asked to listen beyond loopback; names are then the network's matter
 */
export function sameOriginOnly(open: boolean): RequestHandler {
  return (request, _response, next) => {
    const host = request.get('host') ?? ''
    if (!open && !LOOPBACK.has(host.replace(/:\d+$/, '')))
      throw new Problem(403, 'Refused', 'Yuzumix answers only under the address of this machine.')
    const origin = request.get('origin')
    if (origin && origin !== 'null' && new URL(origin).host !== host)
      throw new Problem(403, 'Refused', 'Another page may not use Yuzumix.')
    next()
  }
}
