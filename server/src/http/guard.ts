import { Refusal } from '@yuzumix/core'
import type { RequestHandler } from 'express'
import type { IncomingHttpHeaders } from 'node:http'

const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]'])

function isOwnName(host: string, open: boolean): boolean {
  return open || LOOPBACK.has(host.replace(/:\d+$/, ''))
}
function isOwnOrigin(host: string, origin: string | undefined): boolean {
  return !origin || (URL.canParse(origin) && new URL(origin).host === host)
}

/** Whether an upgrade comes from a page of this server: its own name, and no other origin, not even a nameless ("null") one. */
export function isOwnPage({ host = '', origin }: IncomingHttpHeaders, open: boolean): boolean {
  return isOwnName(host, open) && isOwnOrigin(host, origin)
}

/**
 * Refuses what a page of another origin could send: names that merely resolve to this machine, foreign origins, and
 * nameless ones, as a sandboxed page has.
 *
 * @param open true when the server was asked to listen beyond loopback; names are then the network's matter
 */
export function sameOriginOnly(open: boolean): RequestHandler {
  return (request, _response, next) => {
    const host = request.get('host') ?? ''
    if (!isOwnName(host, open))
      throw new Refusal('elsewhere', 'Yuzumix answers only under the address of this machine.')
    if (!isOwnOrigin(host, request.get('origin'))) throw new Refusal('elsewhere', 'Another page may not use Yuzumix.')
    next()
  }
}
