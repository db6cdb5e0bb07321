import {
  Refusal,
  CALLS,
  type AnsweredBy,
  type BodyOf,
  type Call,
  type CallName,
  type NamesOf,
  type Fault,
  type Refused,
} from '@yuzumix/core'

const BASE = '/api/v1'
/** A browser keeps requests of a closed page alive up to 64 kB. */
const MOST_KEPT_ALIVE = 60_000

let notLetIn = (): void => undefined
/** Says what is done where somebody is asked for the passphrase. */
export function onNotLetIn(work: () => void): void {
  notLetIn = work
}

/** Nothing was answered, or nothing that is understood. */
export const noAnswer = (message = 'The server does not answer. Start it again; what was saved is safe.'): Refusal =>
  new Refusal('no-answer', message)

/** Reads what was refused out of a problem document. */
export function refusalFrom(body: string): Refusal {
  try {
    const { type, detail, errors, ...more } = JSON.parse(body) as {
      type: string
      detail: string
      errors?: Fault[]
    }
    return new Refusal(type.replace('/problems/', '') as Refused, detail, errors, more)
  } catch {
    return noAnswer('The server did not answer as expected. Check that it is running, then try again.')
  }
}

/** Parts of a form that are told; what is undefined, null or empty is left out. */
export function formOf(parts: Record<string, File | Blob | string | number | boolean | null | undefined>): FormData {
  const form = new FormData()
  for (const [name, part] of Object.entries(parts)) {
    if (part instanceof Blob) form.set(name, part, part instanceof File ? part.name : name)
    else if (part !== undefined && part !== null && part !== '') form.set(name, String(part))
  }
  return form
}

/** Address of a call. @param at what its path names, in its order; @param query without its question mark */
function addressOf(name: CallName, at: readonly (string | number)[], query = ''): string {
  let k = 0
  const path = CALLS[name].path.replace(/\{\w+\}/g, () => encodeURIComponent(at[k++]!))
  return BASE + path + (query && `?${query}`)
}

/** @param driver who drives the bench, for acts on it */
async function send(name: CallName, at: string[], sent: unknown, query: string, driver?: string): Promise<Response> {
  const method = CALLS[name].method.toUpperCase()
  const body = sent === undefined || sent instanceof FormData ? sent : JSON.stringify(sent)
  let response: Response
  try {
    response = await fetch(addressOf(name, at, query), {
      method,
      // What is saved while the page is being closed still arrives.
      keepalive: method === 'PATCH' && typeof body === 'string' && body.length < MOST_KEPT_ALIVE,
      headers: {
        ...(typeof body === 'string' && { 'content-type': 'application/json' }),
        ...(driver && { 'x-driver': driver }),
      },
      ...(body !== undefined && { body }),
    })
  } catch {
    throw noAnswer()
  }
  if (!response.ok) {
    const refusal = refusalFrom(await response.text())
    if (refusal.code === 'passphrase-wanted') notLetIn()
    throw refusal
  }
  return response
}

/** What the path of a call names, one after another, then its body, its form or its query. */
type Given<K extends CallName> = [...Named<NamesOf<K>>, ...Sent<BodyOf<K>>]
type Named<Names extends string[]> = { [N in keyof Names]: string | number }
type Sent<Body> = [Body] extends [undefined] ? [query?: Record<string, string>] : [body: Body]
type Client = { [K in CallName]: (...given: Given<K>) => Promise<AnsweredBy<K>> }

/**
 * The HTTP interface, typed by the one list of calls; every call rejects with a Refusal.
 *
 * @param driver who drives the bench, for acts on it
 * @example
 * await apiAs().changeRun(job, run, { name: 'Third sweep' })
 */
export function apiAs(driver?: string): Client {
  const ask =
    (name: CallName) =>
    async (...given: unknown[]) => {
      const { path, answer, body, form, status } = CALLS[name] as Call
      const named = path.match(/\{/g)?.length ?? 0
      const [at, last] = [given.slice(0, named) as string[], given[named]]
      const sends = body !== undefined || form !== undefined
      const query = sends ? '' : String(new URLSearchParams((last ?? {}) as Record<string, string>))
      const response = await send(name, at, sends ? last : undefined, query, driver)
      if (typeof answer === 'string') return response
      return status === 204 ? undefined : response.json()
    }
  return Object.fromEntries(Object.keys(CALLS).map((name) => [name, ask(name as CallName)])) as unknown as Client
}
export const api: Client = apiAs()

/** Address of a stream under the interface. */
export function socketUrl(path: string): string {
  const address = new URL(BASE + path, location.href)
  address.protocol = location.protocol === 'https:' ? 'wss:' : 'ws:'
  return address.href
}

/** Addresses that a page links to. */
export const urls = {
  photo: (job: string, entry: string) => addressOf('photo', [job, entry]),
  archive: (job: string) => addressOf('archive', [job]),
  report: (job: string, format: 'Html' | 'Pdf' | 'Json', query = '') => addressOf(`report${format}`, [job], query),
  revision: (job: string, table: string, n: number, format: 'csv' | 'json' | 'xlsx' | 'sheet') =>
    addressOf('revision', [job, table, `${n}.${format}`]),
}
