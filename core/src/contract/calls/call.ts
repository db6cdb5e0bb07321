import { array, string, type InferType, type ISchema, type StringSchema } from 'yup'
import type { DangerKind } from '../../refusal/dangers'

// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnySchema = ISchema<any> & { describe(): unknown }

/**
 * What the gate looks at in a call before anything of it can reach an engine; or that it only works something out, or only
 * keeps something in the record. A call that is added has to say.
 */
type CallGate = readonly DangerKind[] | 'asks' | 'records'

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
  /** further media types that it answers in, by what stands behind its path */
  also?: readonly string[]
  status: number
  /** where what was made is found, with `{id}` of the answer */
  madeAt?: string
  /** statuses of the problems that it may answer with, beside 404 wherever something is named in its path */
  problems: readonly number[]
  gate: CallGate
  /** it may be asked of a job that was handed over, though it changes it */
  opensAgain?: boolean
}

/** A call with what is sent, what is answered and what its path names, as types. */
export interface CallOf<Path extends string, Body, Answer> extends Call {
  path: Path
  /** for the compiler only */
  types?: { body: Body; answer: Answer }
}
type Sent<S> = [S] extends [never] ? undefined : S extends AnySchema ? InferType<S> : undefined

interface More<B, F, A> extends Partial<
  Omit<Call, 'method' | 'path' | 'summary' | 'gate' | 'body' | 'form' | 'answer'>
> {
  body?: B
  form?: F
  answer?: A
}
/** What is sent with a call: JSON, a form, or nothing; what comes back: JSON, bytes, or nothing. */
type Sends<B, F> = [F] extends [never] ? Sent<B> : FormData
type Answers<A> = [A] extends [never] ? void : A extends string ? Response : Sent<A>

function call(method: Call['method'], status = 200) {
  return <
    const Path extends string,
    B extends AnySchema = never,
    F extends AnySchema = never,
    A extends AnySchema | string = never,
  >(
    path: Path,
    gate: CallGate,
    summary: string,
    more: More<B, F, A> = {},
  ): CallOf<Path, Sends<B, F>, Answers<A>> => ({ method, path, summary, status, problems: [], gate, ...more })
}
const asked = call('get')
export const get = <const Path extends string, A extends AnySchema | string = never>(
  path: Path,
  summary: string,
  more: More<never, never, A> = {},
): CallOf<Path, undefined, Answers<A>> => asked(path, 'asks', summary, more)
export const post = call('post')
export const make = call('post', 201)
export const put = call('put', 201)
export const patch = call('patch')
export const del = call('delete', 204)

/** A list of a resource. */
export const list = <S extends AnySchema>(of: S): ISchema<InferType<S>[]> & { describe(): unknown } =>
  array()
    .of((of as unknown as StringSchema).required() as never)
    .required() as unknown as ISchema<InferType<S>[]> & { describe(): unknown }
/** A file in a form. */
export const file = () => string().meta({ json: { type: 'string', format: 'binary' } })
