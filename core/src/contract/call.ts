import type { DangerKind } from '../gate/danger'
import { array, string, type ISchema, type Schema } from 'yup'

// eslint-disable-next-line @typescript-eslint/no-explicit-any
type AnySchema = ISchema<any> & { describe(): unknown }

/**
 * What the gate looks at in a call before anything of it can reach an engine; or that it only works something out, or only
 * keeps something in the record. A call that is added has to say.
 */
export type CallGate = readonly DangerKind[] | 'asks' | 'records'

/** One call of the HTTP interface. */
export interface Call {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete'
  /** with its parameters in braces */
  path: string
  summary: string
  description?: string
  /** parameters after the question mark, with what they are; others are refused. Those whose name ends in `?` may be left out */
  query?: Record<string, string>
  body?: AnySchema
  /** parts of a form, one of them the file */
  form?: AnySchema
  /** JSON, a media type, or nothing */
  answer?: AnySchema | string
  status: number
  /** statuses of the problems that it may answer with, beside 404 wherever something is named in its path */
  problems: readonly number[]
  gate: CallGate
}

export type More = Partial<Omit<Call, 'method' | 'path' | 'summary' | 'gate'>>
const call =
  (method: Call['method'], status = 200) =>
  (path: string, gate: CallGate, summary: string, more: More = {}): Call => ({
    method,
    path,
    summary,
    status,
    problems: [],
    gate,
    ...more,
  })
export const get = (path: string, summary: string, more: More = {}): Call => call('get')(path, 'asks', summary, more)
export const post = call('post')
export const make = call('post', 201)
export const put = call('put', 201)
export const patch = call('patch')
export const del = call('delete', 204)

/** A list of a resource. */
export const list = (of: Schema) => array().of(of.required()).required()
/** A file in a form. */
export const file = () => string().meta({ json: { type: 'string', format: 'binary' } })
