import {
  counted,
  DEFAULT_JETTING,
  fieldRuns,
  figureFrom,
  fittedText,
  changedByZone,
  plain,
  type Answered,
  type Job,
  type RecordLine,
  type RunInfo,
  type RunSet,
  type TableInfo,
} from '@yuzumix/core'
import { listTables } from '../../store/tables'
import { findRevision } from '../../store/revisions'
import type { Workshop } from '../questions/ask'
import { earliest, passesOf, type Pass } from './passes'
import { offTarget, type Sides } from './reportSides'

/** Passes whose mixture is worked out for the record; earlier ones are named without. */
const MOST_PASSES = 12

const BLANK = {
  asked: '',
  why: '',
  zones: [],
  runs: [],
  weather: '',
  typical: null,
  worst: null,
  where: '',
} satisfies Partial<RecordLine>

/** Weather that runs were made in: what each of them logged, or what was noted for the set; empty where nobody noted it. */
export function weatherWords(set: RunSet | null, runs: readonly RunInfo[]): string {
  const logged = runs.flatMap((run) => run.facts?.weather ?? [])
  const all = set?.weather ? [set.weather] : logged
  if (all.length === 0) return ''
  const span = (of: (one: (typeof all)[number]) => number, digits: number): string => {
    const values = all.map(of)
    const [low, high] = [Math.min(...values), Math.max(...values)].map((one) => plain(one, digits))
    return low === high ? low! : `${low} to ${high}`
  }
  return `${span((one) => one.temperatureC, 0)} °C, ${span((one) => one.pressureKpa, 1)} kPa, ${span((one) => one.humidityPct, 0)} % humidity`
}

async function runLines(
  workshop: Workshop,
  job: Job,
  passes: readonly Pass[],
  signal: AbortSignal,
): Promise<RecordLine[]> {
  const told = passes.slice(-MOST_PASSES)
  return Promise.all(
    passes.map(async (pass): Promise<RecordLine> => {
      const { set, runs, on } = pass
      const off = told.includes(pass)
        ? await offTarget(workshop, job, fieldRuns(job.mixture, set.id, runs), signal)
        : null
      return {
        ...BLANK,
        at: earliest(runs),
        kind: 'runs',
        what: [set.name, set.setup, set.calibration].filter(Boolean).join('; '),
        asked: on && `made on ${on}`,
        runs: runs.map((run) => run.name),
        weather: weatherWords(set, runs),
        typical: off?.typical ?? null,
        worst: off?.worst ?? null,
        where: off?.at ?? '',
      }
    }),
  )
}

async function revisionLines(
  { store }: Workshop,
  job: Job,
  tables: readonly TableInfo[],
  runs: readonly RunInfo[],
): Promise<RecordLine[]> {
  const nameOf = (id: string): string => runs.find((run) => run.id === id)?.name ?? 'a run taken out'
  const lines = tables.flatMap((info) =>
    info.revisions.slice(1).map(async (revision, k): Promise<RecordLine> => {
      const [from, to] = [info.revisions[k]!.n, revision.n]
      const [before, after] = await Promise.all([from, to].map((n) => findRevision(store, job.id, info.id, n)))
      const answer = changedByZone(before!.table, after!.table)
      const path = `/jobs/${job.id}/tables/${info.id}/moved?from=${from}&to=${to}`
      const source: Answered = { method: 'GET', path, body: null, answer }
      const measured = revision.runs.length ? `measured, from ${counted(revision.runs.length, 'run')}` : 'by hand'
      return {
        ...BLANK,
        at: revision.createdAt,
        kind: 'change',
        what: `${info.name}, revision ${to}`,
        asked: revision.override ? `${measured}; asked about, and done because: ${revision.override}` : measured,
        why: revision.reason,
        zones: answer.zones.map(({ zone, cells }, z) => ({
          zone,
          cells,
          largest: figureFrom(source, `/zones/${z}/largest`, answer.unit)!,
          typical: figureFrom(source, `/zones/${z}/typical`, answer.unit)!,
        })),
        runs: revision.runs.map(nameOf),
      }
    }),
  )
  return Promise.all(lines)
}

/** What was in the carburettors, fitting by fitting: all of it first, then what was changed. */
function partLines(job: Job, sets: readonly RunSet[]): RecordLine[] {
  const { body, carburettors } = job.jetting ?? DEFAULT_JETTING
  const fitted = sets.flatMap((set) => (set.fitting ? [{ set, fitting: set.fitting }] : []))
  return fitted.map(({ set, fitting }, k): RecordLine => {
    const before = fitted[k - 1]?.fitting.fitted ?? []
    const parts = fitting.fitted.flatMap((one, c) => {
      const text = fittedText(one, before[c] ?? null, body.kind)
      const name = fitting.fitted.length > 1 ? `${carburettors[c]?.name ?? `carburettor ${c + 1}`}: ` : ''
      return text ? [name + text] : []
    })
    return {
      ...BLANK,
      at: set.createdAt,
      kind: 'parts',
      what: parts.join('; ') || 'as before',
      asked: 'fitted',
      why: fitting.reason,
      weather: weatherWords(set, []),
    }
  })
}

/** Settings of the spark that runs were made at, and the one in use. */
function sparkLines(job: Job, runs: readonly RunInfo[]): RecordLine[] {
  const bySetting = new Map<number, RunInfo[]>()
  for (const run of runs)
    if (run.setting) bySetting.set(run.setting.advance, [...(bySetting.get(run.setting.advance) ?? []), run])
  const tried = [...bySetting].map(([advance, own]): RecordLine => {
    const heard = own.some((run) => run.setting?.knock)
    return {
      ...BLANK,
      at: earliest(own),
      kind: 'spark',
      what: `Runs with the spark at ${plain(advance, 1)}° before top dead centre`,
      asked: heard ? 'tried; knock was heard' : 'tried',
      runs: own.map((run) => run.name),
    }
  })
  const present = job.spark?.present
  if (present == null || tried.length === 0) return tried
  const last = tried.reduce((latest, one) => (one.at > latest ? one.at : latest), tried[0]!.at)
  return [
    ...tried,
    {
      ...BLANK,
      at: last,
      kind: 'spark',
      what: `Spark set to ${plain(present, 1)}° before top dead centre`,
      asked: 'in use',
    },
  ]
}

/**
 * What happened in a job, oldest first: runs by name with their weather and what they show, every revision with what it moved
 * and who asked for it, parts and settings.
 */
export async function recordOf(
  workshop: Workshop,
  job: Job,
  sides: Sides,
  all: { sets: readonly RunSet[]; runs: readonly RunInfo[] },
  signal: AbortSignal,
): Promise<RecordLine[]> {
  const tables = await listTables(workshop.store, job.id)
  const [made, changed] = await Promise.all([
    runLines(workshop, job, passesOf(sides.sets, sides.runsOf, tables), signal),
    revisionLines(workshop, job, tables, all.runs),
  ])
  return [...partLines(job, all.sets), ...made, ...changed, ...sparkLines(job, all.runs)].sort((a, b) =>
    a.at < b.at ? -1 : a.at > b.at ? 1 : 0,
  )
}
