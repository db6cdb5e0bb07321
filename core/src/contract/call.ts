import { array, string, type ISchema, type Schema } from 'yup'

// eslint-disable-next-line @typescript-eslint/no-explicit-any
type AnySchema = ISchema<any> & { describe(): unknown }

/** One call of the HTTP interface. */
export interface Call {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete'
  /** with its parameters in braces */
  path: string
  summary: string
  description?: string
  /** parameters after the question mark, all required, with what they are */
  query?: Record<string, string>
  body?: AnySchema
  /** parts of a form, one of them the file */
  form?: AnySchema
  /** JSON, a media type, or nothing */
  answer?: AnySchema | string
  status: number
  /** statuses of the problems that it may answer with, beside 404 wherever something is named in its path */
  problems: readonly number[]
}

export type More = Partial<Omit<Call, 'method' | 'path' | 'summary'>>
const call =
  (method: Call['method'], status = 200) =>
  (path: string, summary: string, more: More = {}): Call => ({ method, path, summary, status, problems: [], ...more })
export const get = call('get')
export const post = call('post')
export const make = call('post', 201)
export const put = call('put', 201)
export const patch = call('patch')
export const del = call('delete', 204)

/** A list of a resource. */
export const list = (of: Schema) => array().of(of.required()).required()
/** A file in a form. */
export const file = () => string().meta({ json: { type: 'string', format: 'binary' } })
