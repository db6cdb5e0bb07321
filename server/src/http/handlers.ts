import type { Request, Response } from 'express'
import type { BodyOf, CallName, Job, NamesOf } from '@yuzumix/core'

/** What came, and what goes back, as the library of the server has them. */
export interface Exchange {
  request: Request
  response: Response
}

/** A request to one call: what its path names, its query, and its body as the call's schema lets it pass. */
export interface Asked<K extends CallName> extends Exchange {
  at: Record<NamesOf<K>[number], string>
  /** parameters after the question mark, cut to a length that may be said back */
  query: Record<string, string | undefined>
  body: BodyOf<K>
  /** the job that the path names. @throws Refusal, as 404 */
  job(): Promise<Job>
  /** aborts when the client goes away before the answer */
  gone(): AbortSignal
}

/**
 * Answers a call: with JSON, or by writing to the response itself. Nothing (null, undefined, false) where what the path names
 * last is not there, unless the call may answer null.
 */
export type Handlers = { [K in CallName]: (asked: Asked<K>) => unknown }
