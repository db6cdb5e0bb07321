import { Refusal } from '@yuzumix/core'
import type { RequestHandler } from 'express'
import type { IncomingHttpHeaders } from 'node:http'

const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]'])
const withoutPort = (host: string): string => host.replace(/:\d+$/, '').toLowerCase()

/** Names that the server answers to beside those of this machine, asked anew each time. */
export type Names = () => readonly string[]

export const isLoopbackName = (host: string): boolean => LOOPBACK.has(withoutPort(host))

function isOwnName(host: string, names: Names): boolean {
  return isLoopbackName(host) || names().includes(withoutPort(host))
}
function isOwnOrigin(host: string, origin: string | undefined): boolean {
  return !origin || (URL.canParse(origin) && new URL(origin).host === host)
}

/** Whether an upgrade comes from a page of this server: its own name, and no other origin, not even a nameless ("null") one. */
export function isOwnPage({ host = '', origin }: IncomingHttpHeaders, names: Names): boolean {
  return isOwnName(host, names) && isOwnOrigin(host, origin)
}

/**
 * Refuses what a page of another origin could send: names that merely resolve to this machine, foreign origins, and
 * nameless ones, as a sandboxed page has.
 */
export function sameOriginOnly(names: Names): RequestHandler {
  return (request, _response, next) => {
    const host = request.get('host') ?? ''
    if (!isOwnName(host, names))
      throw new Refusal(
        'elsewhere',
        'Yuzumix answers only under the address of this machine, and under the names that were said at Sharing.',
      )
    if (!isOwnOrigin(host, request.get('origin'))) throw new Refusal('elsewhere', 'Another page may not use Yuzumix.')
    next()
  }
}
