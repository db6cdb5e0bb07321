import etag from 'etag'
import { Router, type Request, type RequestHandler, type Response } from 'express'
import { Refusal, ALL_CALLS, checkInput, isRefusal, type Job, type NamedCall } from '@yuzumix/core'
import type { Store } from '../store/database'
import { findJob } from '../store/jobs'
import type { Asked, Handlers } from './handlers'
import { refuseReadOnly } from './readOnly'
import { notFound } from './problem'
import { repeats, type Repeats } from './repeats'

/** Longest text of a query that is read. */
const LONGEST_QUERY = 2000

/** A signal that aborts when the client goes away before the answer. */
function goneSignal(request: Request): AbortSignal {
  const controller = new AbortController()
  const response = request.res!
  // The client may have gone while its file was still being taken in.
  if (response.destroyed) controller.abort()
  response.on('close', () => {
    if (!response.writableEnded) controller.abort()
  })
  return controller.signal
}

/** What a thing named in a path is called, where that is not its name there. */
const CALLED: Record<string, string> = { shelf: 'calibration', entry: 'photo' }

/** Whether a call may answer null. */
const mayBeNull = ({ answer }: NamedCall): boolean =>
  (answer as { spec?: { nullable?: boolean } } | undefined)?.spec?.nullable === true

/** The answer of a call that answers JSON, or nothing. */
function send(call: NamedCall, request: Request, response: Response, answer: unknown): void {
  const named = [...call.path.matchAll(/\{(\w+)\}/g)].at(-1)?.[1]
  if (named && (answer === undefined || answer === false || (answer === null && !mayBeNull(call))))
    throw notFound(CALLED[named] ?? named)
  response.status(call.status)
  if (call.status === 204) return void response.end()
  // Several things at once stand at no one place.
  const { id } = (answer ?? {}) as { id?: string }
  if (call.madeAt && id !== undefined) {
    const ids = { ...request.params, id }
    response.location(`/api/v1${call.madeAt.replace(/\{(\w+)\}/g, (_, name: 'id') => ids[name])}`)
  }
  response.json(answer)
}

/** What a change is made of: the answer of the call that reads what it changes; null for none. */
function readerOf(call: NamedCall, handlers: Handlers): Handle | null {
  const reader = call.method === 'patch' && ALL_CALLS.find((one) => one.method === 'get' && one.path === call.path)
  return reader ? (handlers[reader.name] as Handle) : null
}

/** @throws Refusal, as 412 where what is changed is no longer what was read, by its `If-Match` (RFC 9110, 13.1.1) */
async function refuseChanged(asked: Asked<never>, read: Handle | null): Promise<void> {
  const wanted = asked.request.get('if-match')
  if (!read || !wanted || wanted === '*') return
  const now = etag(JSON.stringify(await read(asked)), { weak: true })
  const plain = (tag: string): string => tag.trim().replace(/^W\//, '')
  if (!wanted.split(',').some((one) => plain(one) === plain(now)))
    throw new Refusal('changed-meanwhile', 'It was changed since it was read. Read it again, then change it.')
}

type Handle = (asked: Asked<never>) => unknown

function route(store: Store, call: NamedCall, handlers: Handlers, repeated: Repeats): RequestHandler {
  const handle = handlers[call.name] as Handle
  const read = readerOf(call, handlers)
  return async (request, response) => {
    if (call.method === 'post' && repeated.answered(request, response)) return
    let found: Promise<Job | null> | undefined
    const here = (): Promise<Job | null> => (found ??= findJob(store, String(request.params['job'])))
    if (call.path.includes('{job}')) {
      const job = await here()
      if (!job) throw notFound('job')
      if (call.method !== 'get' && call.gate !== 'asks') refuseReadOnly(call, job)
    }
    const text = ([name, value]: [string, unknown]): [string, string | undefined] => [
      name,
      typeof value === 'string' ? value.slice(0, LONGEST_QUERY) : undefined,
    ]
    const asked: Asked<never> = {
      at: request.params as never,
      query: Object.fromEntries(Object.entries(request.query).map(text)),
      body: (call.body ? checkInput(call.body as never, request.body ?? {}) : undefined) as never,
      async job() {
        const job = await here()
        if (!job) throw notFound('job')
        return job
      },
      gone: () => goneSignal(request),
      request,
      response,
    }
    await refuseChanged(asked, read)
    const answer = await told(() => handle(asked), store, asked)
    if (typeof call.answer !== 'string' && !response.headersSent) send(call, request, response, answer)
  }
}

/**
 * What a call comes to; an error whose job was deleted meanwhile broke on what is no more.
 *
 * @throws Refusal 'not-found' then, and the error itself otherwise
 */
async function told(work: () => unknown, store: Store, { at }: Asked<never>): Promise<unknown> {
  try {
    return await work()
  } catch (error) {
    const { job } = at as { job?: string }
    if (isRefusal(error) || job === undefined || (error as Error).name === 'AbortError') throw error
    if (await findJob(store, job).catch(() => true)) throw error
    throw new Refusal('not-found', 'The job was deleted while this was under way.')
  }
}

/** A route for every call of the contract. */
export function routesOf(store: Store, handlers: Handlers): Router {
  const router = Router()
  const repeated = repeats()
  for (const call of ALL_CALLS)
    router[call.method](call.path.replace(/\{(\w+)\}/g, ':$1'), route(store, call, handlers, repeated))
  return router
}
