import { Refusal } from '@yuzumix/core'
import type { Request, Response } from 'express'
import { LRUCache } from 'lru-cache'

/** Answers that are kept for whoever asks again with the same key: of some hours of work. */
const MOST = 500

interface Kept {
  /** what was asked: the same key for something else is a mistake */
  asked: string
  /** null while it is under way */
  answer: { status: number; location: string | undefined; body: unknown } | null
}

/**
 * Keeps what was answered to a request with an `Idempotency-Key`, so that asking again after a link was cut makes nothing
 * twice (draft-ietf-httpapi-idempotency-key-header). Keys are forgotten when the server ends.
 */
export function repeats() {
  const known = new LRUCache<string, Kept>({ max: MOST })
  /**
   * Answers as before, where that key was answered.
   *
   * @returns whether it did
   * @throws Refusal, as 409 while the first is under way; 422 for another request with the same key
   */
  function answered(request: Request, response: Response): boolean {
    const key = request.get('idempotency-key')
    if (!key) return false
    // A form is not read yet: another file has, as good as always, another length.
    const sent = request.is('multipart/form-data') ? request.get('content-length') : request.body
    const asked = `${request.method} ${request.originalUrl} ${JSON.stringify(sent ?? null)}`
    const found = known.get(key)
    if (!found) {
      const kept: Kept = { asked, answer: null }
      known.set(key, kept)
      const json = response.json.bind(response)
      response.json = (body: unknown) => {
        kept.answer = { status: response.statusCode, location: response.get('location'), body }
        return json(body)
      }
      // What was refused, or cut off, may be tried again.
      response.on('close', () => void (kept.answer === null && known.delete(key)))
      return false
    }
    if (found.asked !== asked)
      throw new Refusal('key-taken', 'An Idempotency-Key stands for one request. Take a new one.')
    if (!found.answer) throw new Refusal('under-way', 'The request with that Idempotency-Key is still being worked at.')
    const { status, location, body } = found.answer
    if (location) response.location(location)
    response.status(status).json(body)
    return true
  }
  return { answered }
}
export type Repeats = ReturnType<typeof repeats>
