import { TABLE_STEPS, type DangerKind } from '../../refusal/dangers'
import { mappingSchema } from '../run'
import { tableInputSchema } from '../tableJson'
import { benchCalls } from './benchCalls'
import type { Call } from './call'
import { handlingCalls } from './handlingCalls'
import { jobCalls } from './jobCalls'
import { accessCalls } from './accessCalls'
import { keepingCalls } from './keepingCalls'
import { questionCalls } from './questionCalls'
import { runCalls } from './runCalls'
import { tableCalls } from './tableCalls'

/** Dangers of calls that change a machine. */
const CHANGING: readonly DangerKind[] = [...TABLE_STEPS, 'table values', 'engine running', 'unproven start']

/** A job that was handed over answers every write with 409, and so does the gate. */
const mayConflict = ({ method, path, gate }: Call): boolean =>
  (method !== 'get' && path.startsWith('/jobs/{job}')) || typeof gate !== 'string'

/** Every call of the HTTP interface by its name, under /api/v1: routes, client, guards and the OpenAPI document follow from it. */
export const CALLS = {
  ...jobCalls,
  ...runCalls,
  ...questionCalls,
  ...tableCalls,
  ...benchCalls,
  ...handlingCalls,
  ...accessCalls,
  ...keepingCalls,
}
export type CallName = keyof typeof CALLS

/** A call with its name, and all problems of its kind. */
export interface NamedCall extends Call {
  name: CallName
}
/** The same as a list. */
export const ALL_CALLS: readonly NamedCall[] = Object.entries<Call>(CALLS).map(([name, one]) => ({
  ...one,
  name: name as CallName,
  problems: mayConflict(one) ? [...new Set([...one.problems, 409])] : one.problems,
}))

/** Names in a path, in their order. */
type NamesIn<Path extends string> = Path extends `${string}{${infer Name}}${infer Rest}` ? [Name, ...NamesIn<Rest>] : []
/** What the path of a call names, in its order. */
export type NamesOf<K extends CallName> = NamesIn<(typeof CALLS)[K]['path']>
type Types<K extends CallName> = NonNullable<(typeof CALLS)[K]['types']>
/** What is sent with a call, and what it answers. */
export type BodyOf<K extends CallName> = Types<K>['body']
export type AnsweredBy<K extends CallName> = Types<K>['answer']

/** Whether a call changes a machine, which licensed work leaves to a licensed mechanic. */
export const changesMachine = ({ gate }: Call): boolean =>
  typeof gate !== 'string' && gate.some((one) => CHANGING.includes(one))

/**
 * Statuses of all problems that a call may answer with: its own; somebody who is not let in (401); a page of another site; a name in its path or query that is not
 * there; a body of another kind; a change of what was changed meanwhile (412), or an Idempotency-Key that stands for another request; a disk that is full where something is stored (507). An address that does not have the method asked for answers 405.
 */
export function problemsOf({ method, path, problems, body, form }: Call): number[] {
  const all = [
    400,
    401,
    403,
    ...problems,
    ...(path.includes('{') ? [404] : []),
    ...(body || form ? [415] : []),
    ...(method === 'patch' ? [412] : []),
    ...(method === 'post' ? [409, 422] : []),
    ...(method === 'get' ? [] : [507]),
  ]
  return [...new Set(all)].sort((a, b) => a - b)
}

/** Whether a path under /api/v1 is that of a call. */
function isAt({ path }: Call, parts: readonly string[]): boolean {
  const own = path.split('/')
  return (
    own.length === parts.length &&
    own.every((part, k) => part === parts[k] || (part.startsWith('{') && parts[k] !== ''))
  )
}

/**
 * The calls of an address, whatever their methods; those that name more of it come first.
 *
 * @param path under /api/v1
 */
export function callsAt(path: string): NamedCall[] {
  const parts = path.split('/')
  const named = ({ path: own }: Call): number => own.split('/').filter((part) => !part.startsWith('{')).length
  const all = ALL_CALLS.filter((one) => isAt(one, parts))
  const most = Math.max(0, ...all.map(named))
  return all.filter((one) => named(one) === most)
}

/** The call that a request is, by its method and its path under /api/v1; undefined where there is none. */
export function callOf(method: string, path: string): NamedCall | undefined {
  const parts = path.split('/')
  return ALL_CALLS.find((one) => one.method === method.toLowerCase() && isAt(one, parts))
}

/** Components that are pointed at by name alone. */
export const NAMED_SCHEMAS = [mappingSchema, tableInputSchema] as const
