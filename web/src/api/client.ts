import type {
  Entry,
  Job,
  JobChange,
  Mapping,
  NewJob,
  RunColumns,
  RunInfo,
  RunKind,
  Table,
  TableInfo,
} from '@yuzumix/core'

/** One thing at fault, as a problem document names it. */
export interface ProblemFault {
  message: string
  field?: string
  line?: number
  column?: number
}

/** An answer that was a problem document (or no answer at all: status 0). */
export class ProblemError extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
    readonly faults: readonly ProblemFault[] = [],
  ) {
    super(detail)
  }
}

const BASE = '/api/v1'

/** Reads a problem document out of a failed answer. */
export function problemFrom(status: number, body: string): ProblemError {
  try {
    const { title, detail, errors } = JSON.parse(body) as { title: string; detail: string; errors?: ProblemFault[] }
    return new ProblemError(status, title, detail, errors)
  } catch {
    return new ProblemError(
      status,
      'No answer',
      'The server did not answer as expected. Check that it is running, then try again.',
    )
  }
}

async function call(method: string, path: string, body?: unknown): Promise<Response> {
  let response: Response
  try {
    response = await fetch(BASE + path, {
      method,
      ...(body !== undefined && { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    })
  } catch {
    throw new ProblemError(0, 'No answer', 'The server does not answer. Start it again; what was saved is safe.')
  }
  if (!response.ok) throw problemFrom(response.status, await response.text())
  return response
}

const json = async <T>(method: string, path: string, body?: unknown): Promise<T> =>
  (await call(method, path, body)).json() as Promise<T>

async function sendFile<T>(path: string, file: File): Promise<T> {
  const form = new FormData()
  form.set('file', file)
  let response: Response
  try {
    response = await fetch(BASE + path, { method: 'POST', body: form })
  } catch {
    throw new ProblemError(0, 'No answer', 'The server does not answer. Start it again; what was saved is safe.')
  }
  if (!response.ok) throw problemFrom(response.status, await response.text())
  return (await response.json()) as T
}

/** The HTTP interface, typed. Every call rejects with a ProblemError. */
export const api = {
  jobs: () => json<Job[]>('GET', '/jobs'),
  job: (id: string) => json<Job>('GET', `/jobs/${id}`),
  createJob: (job: NewJob) => json<Job>('POST', '/jobs', job),
  changeJob: (id: string, change: JobChange) => json<Job>('PATCH', `/jobs/${id}`, change),
  deleteJob: (id: string) => call('DELETE', `/jobs/${id}`),
  entries: (id: string) => json<Entry[]>('GET', `/jobs/${id}/entries`),
  archiveUrl: (id: string) => `${BASE}/jobs/${id}/archive`,
  readArchive: (file: File) => sendFile<Job>('/archives', file),

  runs: (job: string) => json<RunInfo[]>('GET', `/jobs/${job}/runs`),
  changeRun: (
    job: string,
    run: string,
    change: { name?: string; kind?: RunKind; removed?: boolean; gaugeScale?: number },
  ) => json<RunInfo>('PATCH', `/jobs/${job}/runs/${run}`, change),
  mappings: () => json<Record<string, Mapping>>('GET', '/mappings'),
  importShare: (id: string) => json<{ share: number }>('GET', `/imports/${id}`),

  tables: (job: string) => json<TableInfo[]>('GET', `/jobs/${job}/tables`),
  addTable: (job: string, table: { name: string; cylinder?: number | null; table: Table; reason?: string }) =>
    json<TableInfo>('POST', `/jobs/${job}/tables`, table),
  addRevision: (
    job: string,
    table: string,
    revision: { values: number[][]; parent: number; reason: string; runs?: string[] },
  ) => json<TableInfo>('POST', `/jobs/${job}/tables/${table}/revisions`, revision),
  revision: (job: string, table: string, n: number) =>
    json<{ n: number; table: Table }>('GET', `/jobs/${job}/tables/${table}/revisions/${n}`),
  revisionUrl: (job: string, table: string, n: number, format: 'csv' | 'json' | 'xlsx') =>
    `${BASE}/jobs/${job}/tables/${table}/revisions/${n}.${format}`,
  readTable: (file: File) => sendFile<Table>('/tables/read', file),
}

async function column(job: string, run: string, channel: string): Promise<Float32Array> {
  return new Float32Array(await (await call('GET', `/jobs/${job}/runs/${run}/channels/${channel}`)).arrayBuffer())
}

/** The columns of a run that the estimator needs. */
export async function fetchColumns(job: string, run: RunInfo): Promise<RunColumns> {
  const has = (channel: string): boolean => run.channels.some((one) => one.channel === channel)
  const lambdas = [1, 2, 3, 4].map((n) => `lambda${n}`).filter(has)
  const names = ['time', 'rpm', 'throttle', 'manifold', 'coolant'].filter(has)
  const columns = await Promise.all([...names, ...lambdas].map((channel) => column(job, run.id, channel)))
  const named = Object.fromEntries(names.map((name, k) => [name, columns[k]!]))
  return { id: run.id, ...(named as Pick<RunColumns, 'time' | 'rpm'>), lambda: columns.slice(names.length) }
}
