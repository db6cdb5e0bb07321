import { networkInterfaces } from 'node:os'
import type { Request, RequestHandler, Response } from 'express'
import { rateLimit } from 'express-rate-limit'
import QRCode from 'qrcode'
import { Refusal, type AccessState, type Sharing } from '@yuzumix/core'
import type { Access } from '../access/access'
import { COOKIE, isHere, standingOf, tokenOf } from './entry'
import type { Handlers } from './handlers'

/** Wrong tries in a minute: of one address, and of all together. */
const [MOST_TRIES, MOST_OF_ALL] = [5, 30]
const LASTS = 90 * 86_400_000

/** Slows whoever tries passphrases or codes: what was wrong counts, what was right does not. */
export function slowTries(): RequestHandler[] {
  const refuse = (): never => {
    throw new Refusal('too-many-tries', 'Too many tries: wait a minute, then try again.')
  }
  const usual = {
    windowMs: 60_000,
    skipSuccessfulRequests: true,
    standardHeaders: 'draft-8' as const,
    legacyHeaders: false,
    handler: refuse,
  }
  return [
    rateLimit({ ...usual, limit: MOST_OF_ALL, keyGenerator: () => 'all' }),
    rateLimit({ ...usual, limit: MOST_TRIES }),
  ]
}

/** @param open whether the server listens beyond this machine @param secure whether it speaks TLS */
export function accessHandlers(access: Access, { open, secure }: { open: boolean; secure: boolean }) {
  const told = (request: Request, token?: string): AccessState => {
    const standing = token === undefined ? standingOf(access, request) : access.roleOf(token)
    return {
      open,
      here: isHere(request),
      role: standing === 'here' ? 'work' : standing,
      hasPassphrase: access.hasPassphrase(),
    }
  }
  const letIn = (request: Request, response: Response, token: string): AccessState => {
    response.cookie(COOKIE, token, { httpOnly: true, sameSite: 'strict', secure, path: '/', maxAge: LASTS })
    return told(request, token)
  }
  const onlyHere = (request: Request): void => {
    if (!isHere(request))
      throw new Refusal('only-here', 'This is set at the machine itself, in a browser on it, and nowhere else.')
  }
  const sharing = (): Sharing => ({ names: access.names(), sessions: access.sessions(), addresses: addressesHere() })
  return {
    access: ({ request }) => told(request),
    async enter({ request, response, body }) {
      const token = await access.enter(body.passphrase)
      if (!token) throw new Refusal('passphrase-wrong', 'That is not the passphrase of this workshop.')
      return letIn(request, response, token)
    },
    join({ request, response, body }) {
      const token = access.join(body.code)
      if (!token)
        throw new Refusal('passphrase-wrong', 'That code is used up or too old. Have a new one shown, and open it.')
      return letIn(request, response, token)
    },
    leave({ request, response }) {
      const token = tokenOf(request)
      if (token) access.leave(token)
      response.clearCookie(COOKIE, { path: '/' })
      return told(request, '')
    },
    leaveAll: () => ({ left: access.leaveAll() }),
    sharing,
    async setPassphrase({ request, body }) {
      onlyHere(request)
      await access.setPassphrase(body.passphrase)
      return told(request)
    },
    setNames({ request, body }) {
      onlyHere(request)
      access.setNames(body.names)
      return sharing()
    },
    async makeCode({ request, body }) {
      const { code, until } = access.makeCode(body.role)
      const host = isHere(request) ? (access.names()[0] ?? 'localhost') : request.hostname
      const port = request.socket.localPort
      const address = `${secure ? 'https' : 'http'}://${host}:${port}/join#${code}`
      return { code, until, address, picture: await QRCode.toString(address, { type: 'svg', margin: 2 }) }
    },
  } satisfies Partial<Handlers>
}

/** Addresses of this machine in its networks, those of itself left out. */
function addressesHere(): string[] {
  return Object.values(networkInterfaces())
    .flatMap((all) => all ?? [])
    .filter((one) => !one.internal && one.family === 'IPv4')
    .map((one) => one.address)
}
