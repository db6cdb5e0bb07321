import {
  assembleRun,
  channelsFor,
  type BenchChoice,
  type BenchFaults,
  type BenchState,
  type CalibrationStep,
  type ColumnPurpose,
  type Complaint,
  type ComplaintChange,
  type DoubtAnswer,
  type NewComplaint,
  type NewEntry,
  type NewPutBack,
  type ProbeCheck,
  type PutBack,
  type RigLine,
  type SavedReport,
  type Shelf,
  type ShelfMatch,
  type Verdict,
  type ComparedAnswer,
  type CompareRequest,
  type Entry,
  type HandRequest,
  type Job,
  type JobChange,
  type Mapping,
  type NewJob,
  type NewRevision,
  type NewRevisions,
  type NewSet,
  type NextOfJob,
  type NewTable,
  type OpenCase,
  type ProblemFault,
  type FoundThere,
  type RunChange,
  type RunsChange,
  type RunColumns,
  type RunInfo,
  type ReadAs,
  type Recheck,
  type RunSet,
  type SetChange,
  type Table,
  type TableSaid,
  type TableHistory,
  type TableChange,
  type TableInfo,
  type TrainingState,
} from '@yuzumix/core'

/** An answer that was a problem document (or no answer at all: status 0). */
export class ProblemError extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
    readonly faults: readonly ProblemFault[] = [],
    /** further members of the problem document */
    readonly more: Record<string, unknown> = {},
  ) {
    super(detail)
  }
}

const BASE = '/api/v1'
/** A browser keeps requests of a closed page alive up to 64 kB. */
const MOST_KEPT_ALIVE = 60_000

/** Reads a problem document out of a failed answer. */
export function problemFrom(status: number, body: string): ProblemError {
  try {
    const { title, detail, errors, ...more } = JSON.parse(body) as {
      title: string
      detail: string
      errors?: ProblemFault[]
    }
    return new ProblemError(status, title, detail, errors, more)
  } catch {
    return new ProblemError(
      status,
      'No answer',
      'The server did not answer as expected. Check that it is running, then try again.',
    )
  }
}

/** @param driver who drives the bench, for acts on it */
async function call(method: string, path: string, body?: unknown, driver?: string): Promise<Response> {
  let response: Response
  try {
    response = await fetch(BASE + path, {
      method,
      // What is saved while the page is being closed still arrives.
      keepalive: method === 'PATCH' && JSON.stringify(body).length < MOST_KEPT_ALIVE,
      headers: {
        ...(body !== undefined && { 'content-type': 'application/json' }),
        ...(driver && { 'x-driver': driver }),
      },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    })
  } catch {
    throw new ProblemError(0, 'No answer', 'The server does not answer. Start it again; what was saved is safe.')
  }
  if (!response.ok) throw problemFrom(response.status, await response.text())
  return response
}

const json = async <T>(method: string, path: string, body?: unknown, driver?: string): Promise<T> =>
  (await call(method, path, body, driver)).json() as Promise<T>
/** A reason as part of a body; nothing without one. */
const why = (override?: string): { override?: string } => (override ? { override } : {})

function sendFile<T>(path: string, file: File, override?: string): Promise<T> {
  const form = new FormData()
  if (override) form.set('override', override)
  form.set('file', file)
  return sendForm<T>(path, form)
}

async function sendForm<T>(path: string, form: FormData): Promise<T> {
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
  entries: (id: string) => json<Entry[]>('GET', `/jobs/${id}/entries`),
  addNote: (job: string, note: NewEntry, photo: Blob | null) => {
    const form = new FormData()
    for (const [name, value] of Object.entries(note)) if (value !== undefined) form.set(name, String(value))
    if (photo) form.set('photo', photo, 'photo')
    return sendForm<Entry>(`/jobs/${job}/entries`, form)
  },
  photoUrl: (job: string, entry: string) => `${BASE}/jobs/${job}/entries/${entry}/photo`,

  complaints: (job: string) => json<Complaint[]>('GET', `/jobs/${job}/complaints`),
  complaintFindings: (job: string) => json<FoundThere[]>('GET', `/jobs/${job}/complaint-findings`),
  addComplaint: (job: string, complaint: NewComplaint) => json<Complaint>('POST', `/jobs/${job}/complaints`, complaint),
  changeComplaint: (job: string, id: string, change: ComplaintChange) =>
    json<Complaint>('PATCH', `/jobs/${job}/complaints/${id}`, change),
  deleteComplaint: (job: string, id: string) => call('DELETE', `/jobs/${job}/complaints/${id}`),
  verdict: (job: string) => json<Verdict>('GET', `/jobs/${job}/verdict`),
  rig: (job: string) => json<RigLine[]>('GET', `/jobs/${job}/rig`),
  addRigLine: (job: string, line: { text: string; minutes?: number }) =>
    json<RigLine>('POST', `/jobs/${job}/rig`, line),
  tickRigLine: (job: string, id: string, done: boolean) => json<RigLine>('PATCH', `/jobs/${job}/rig/${id}`, { done }),
  probes: (job: string) => json<(ProbeCheck & { cylinder: number })[]>('GET', `/jobs/${job}/probes`),
  putBack: (job: string) => json<PutBack[]>('GET', `/jobs/${job}/put-back`),
  notePutBack: (job: string, line: NewPutBack) => json<PutBack>('POST', `/jobs/${job}/put-back`, line),
  settlePutBack: (job: string, id: string, change: { back?: boolean; leftSo?: boolean; told?: string }) =>
    json<PutBack>('PATCH', `/jobs/${job}/put-back/${id}`, change),
  shelf: () => json<Shelf[]>('GET', '/shelf'),
  keepOnShelf: (job: string, name: string, table: string | undefined) =>
    json<Shelf>('POST', '/shelf', { job, name, table }),
  dropShelf: (id: string) => call('DELETE', `/shelf/${id}`),
  shelfMatches: (job: string) => json<ShelfMatch[]>('GET', `/jobs/${job}/shelf-matches`),
  shelfStart: (job: string, shelf: string, mean: boolean, override?: string) =>
    json<{ table: string | null; set: string | null; lost: string[] }>('POST', `/jobs/${job}/shelf-start`, {
      shelf,
      mean,
      ...why(override),
    }),
  againstShelf: (job: string, table: string, shelf: string) =>
    json<{ said: string }>('POST', `/jobs/${job}/tables/${table}/against-shelf`, { shelf }),
  reportUrl: (job: string, format: 'html' | 'pdf' | 'json', query = '') =>
    `${BASE}/jobs/${job}/report.${format}${query && `?${query}`}`,
  reports: (job: string) => json<SavedReport[]>('GET', `/jobs/${job}/reports`),
  saveReport: (job: string) => json<SavedReport>('POST', `/jobs/${job}/reports`, {}),
  handOver: (job: string) => json<Job>('POST', `/jobs/${job}/done`),
  reopen: (job: string) => json<Job>('POST', `/jobs/${job}/reopen`),
  archiveUrl: (id: string) => `${BASE}/jobs/${id}/archive`,
  readArchive: (file: File, override?: string) => sendFile<Job>('/archives', file, override),

  runs: (job: string) => json<RunInfo[]>('GET', `/jobs/${job}/runs`),
  changeRuns: (job: string, change: RunsChange) => json<RunInfo[]>('PATCH', `/jobs/${job}/runs`, change),
  changeRun: (job: string, run: string, change: RunChange) =>
    json<RunInfo>('PATCH', `/jobs/${job}/runs/${run}`, change),
  /** Says on which state of a table the runs that came before it were made. */
  sayMadeOn: (job: string, table: string, revision: number) =>
    json<RunInfo[]>('POST', `/jobs/${job}/made-on`, { table, revision }),
  mappings: () => json<Record<string, Mapping>>('GET', '/mappings'),
  importShare: (id: string) => json<{ share: number | null }>('GET', `/imports/${id}`),

  sets: (job: string) => json<RunSet[]>('GET', `/jobs/${job}/sets`),
  allSets: () => json<RunSet[]>('GET', '/sets'),
  addSet: (job: string, set: NewSet) => json<RunSet>('POST', `/jobs/${job}/sets`, set),
  changeSet: (job: string, set: string, change: SetChange) => json<RunSet>('PATCH', `/jobs/${job}/sets/${set}`, change),
  deleteSet: (job: string, set: string) => call('DELETE', `/jobs/${job}/sets/${set}`),
  addHandReadings: (job: string, readings: HandRequest) =>
    json<RunInfo>('POST', `/jobs/${job}/hand-readings`, readings),
  nextRun: (job: string) => json<NextOfJob>('POST', `/jobs/${job}/next-run`, {}),
  takenOut: (job: string) => json<RunInfo[]>('GET', `/jobs/${job}/taken-out`),
  doubts: (job: string) => json<DoubtAnswer[]>('GET', `/jobs/${job}/doubts`),
  /** How the columns of some runs are read; null as they were logged. */
  readAs: (job: string, runs: readonly string[], readAs: ReadAs | null) =>
    json<RunInfo[]>('POST', `/jobs/${job}/read-as`, { runs, readAs }),
  rechecks: (job: string) => json<Recheck[]>('GET', `/jobs/${job}/rechecks`),
  compare: (job: string, request: CompareRequest) => json<ComparedAnswer>('POST', `/jobs/${job}/compare`, request),

  benchMachines: () => json<{ id: string; name: string; cylinders: number }[]>('GET', '/bench/machines'),
  bench: (job: string) => json<BenchState | null>('GET', `/jobs/${job}/bench`),
  // Acts on a bench say who drives: while somebody else does, they are refused.
  connectBench: (job: string, choice: BenchChoice, driver?: string) =>
    json<BenchState>('PUT', `/jobs/${job}/bench`, choice, driver),
  disconnectBench: (job: string, driver?: string) => call('DELETE', `/jobs/${job}/bench`, undefined, driver),
  benchFaults: (job: string, faults: BenchFaults, driver?: string) =>
    json<BenchFaults>('PATCH', `/jobs/${job}/bench/faults`, faults, driver),
  writeBench: (job: string, table: string, values: number[][], override?: string, driver?: string) =>
    json<BenchState>('POST', `/jobs/${job}/bench/tables/${table}`, { values, ...why(override) }, driver),
  tellBench: (job: string, what: 'keep' | 'restore' | 'recover' | 'power-cycle', override?: string, driver?: string) =>
    json<BenchState>('POST', `/jobs/${job}/bench/${what}`, why(override), driver),

  calibrateBench: (job: string, step: CalibrationStep, driver?: string) =>
    json<BenchState>('POST', `/jobs/${job}/bench/calibrate/${step}`, undefined, driver),

  trainerCases: () => json<OpenCase[]>('GET', '/trainer/cases'),
  takeCase: (id: string) => json<Job>('POST', `/trainer/cases/${id}`),
  training: (job: string) => json<TrainingState | null>('GET', `/jobs/${job}/training`),
  connectCase: (job: string, speed: 1 | 4, driver?: string) =>
    json<BenchState>('PUT', `/jobs/${job}/training/bench`, { speed }, driver),
  workshopAct: (job: string, act: string, driver?: string) =>
    json<TrainingState>('POST', `/jobs/${job}/training/acts`, { act }, driver),
  finishCase: (job: string, diagnosis: string) =>
    json<TrainingState>('POST', `/jobs/${job}/training/finish`, { diagnosis }),

  tables: (job: string) => json<TableInfo[]>('GET', `/jobs/${job}/tables`),
  addTable: (job: string, table: NewTable) => json<TableInfo>('POST', `/jobs/${job}/tables`, table),
  changeTable: (job: string, table: string, change: TableChange) =>
    json<TableInfo>('PATCH', `/jobs/${job}/tables/${table}`, change),
  addRevision: (job: string, table: string, revision: NewRevision) =>
    json<TableInfo>('POST', `/jobs/${job}/tables/${table}/revisions`, revision),
  /** Several tables at once: all are saved, or none. */
  addRevisions: (job: string, revisions: NewRevisions['revisions']) =>
    json<TableInfo[]>('POST', `/jobs/${job}/revisions`, { revisions }),
  checkRevision: (job: string, table: string, revision: NewRevision) =>
    json<{ from: string; text: string }>('POST', `/jobs/${job}/tables/${table}/revisions/check`, revision),
  histories: (job: string, since: string) =>
    json<TableHistory[]>('GET', `/jobs/${job}/tables/histories?since=${encodeURIComponent(since)}`),
  revision: (job: string, table: string, n: number) =>
    json<{ n: number; table: Table }>('GET', `/jobs/${job}/tables/${table}/revisions/${n}`),
  revisionUrl: (job: string, table: string, n: number, format: 'csv' | 'json' | 'xlsx') =>
    `${BASE}/jobs/${job}/tables/${table}/revisions/${n}.${format}`,
  readTable: (file: File, said: TableSaid = {}) => {
    const form = new FormData()
    for (const [key, value] of Object.entries(said)) if (value) form.set(key, value)
    form.set('file', file)
    return sendForm<Table>('/tables/read', form)
  },
}

/** The columns of runs that a computation needs. */
export async function fetchColumns(
  job: string,
  runs: readonly RunInfo[],
  purpose: ColumnPurpose,
): Promise<RunColumns[]> {
  const asked = runs.map((run) => ({ run: run.id, channels: channelsFor(run, purpose) }))
  const answer = await call('POST', `/jobs/${job}/columns`, { runs: asked })
  const all = new Float32Array(await answer.arrayBuffer())
  let from = 0
  return runs.map((run, k) => {
    const { channels } = asked[k]!
    const own = from
    from += channels.length * run.samples
    return assembleRun(run, (channel) => {
      const at = channels.indexOf(channel)
      return at < 0 ? null : all.slice(own + at * run.samples, own + (at + 1) * run.samples)
    })
  })
}
