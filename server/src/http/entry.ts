import { parse } from 'cookie'
import type { RequestHandler } from 'express'
import type { IncomingMessage } from 'node:http'
import { callsAt, Refusal, type Role } from '@yuzumix/core'
import type { Access } from '../access/access'
import { isLoopbackName } from './guard'

/** The cookie that a session is known by. */
export const COOKIE = 'yuzumix-entry'
/** Calls that are answered to whoever asks: whether one is let in, and coming in. */
const OPEN_CALLS = new Set(['/access', '/access/enter', '/access/join', '/health'])
/** Calls that change nothing but the session of who asks. */
const OWN_CALLS = new Set([...OPEN_CALLS, '/access/leave'])
const LOOPBACK = /^(::1|(::ffff:)?127\.\d+\.\d+\.\d+)$/
/** What a relay on this machine puts into what it passes on. */
const PASSED_ON = ['forwarded', 'via', 'x-forwarded-for', 'x-forwarded-host', 'x-real-ip']

/** What whoever asks may do: all at this machine itself; else what was let in; null for nothing. */
export type Standing = 'here' | Role | null

/** Whether a request comes from this machine, under its own name, and is passed on for nobody else. */
export function isHere({ socket, headers }: IncomingMessage): boolean {
  return (
    LOOPBACK.test(socket.remoteAddress ?? '') &&
    isLoopbackName(headers.host ?? '') &&
    PASSED_ON.every((name) => headers[name] === undefined)
  )
}

export const tokenOf = ({ headers }: IncomingMessage): string => parse(headers.cookie ?? '')[COOKIE] ?? ''

export function standingOf(access: Access, request: IncomingMessage): Standing {
  if (isHere(request)) return 'here'
  const token = tokenOf(request)
  return token ? access.roleOf(token) : null
}

/** Lets nobody to the interface from beyond this machine who was not let in, and those who watch to nothing that changes something. */
export function entryWanted(access: Access): RequestHandler {
  return (request, _response, next) => {
    const path = request.path.replace(/(.)\/$/, '$1')
    const standing = standingOf(access, request)
    if (standing === null && !OPEN_CALLS.has(path))
      throw new Refusal('passphrase-wanted', 'Tell the passphrase of this workshop, or join by a code, to come in.')
    if (standing === 'watch' && !OWN_CALLS.has(path) && changes(request.method, path))
      throw new Refusal(
        'only-watching',
        'You are let in to watch. Ask at the workshop’s own machine to be let in to work.',
      )
    next()
  }
}

function changes(method: string, path: string): boolean {
  if (['GET', 'HEAD', 'OPTIONS'].includes(method)) return false
  const call = callsAt(path).find((one) => one.method === method.toLowerCase())
  return call?.gate !== 'asks'
}
