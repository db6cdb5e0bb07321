import { strFromU8, strToU8, Unzip, UnzipInflate, UnzipPassThrough, Zip, ZipDeflate } from 'fflate'
import Papa from 'papaparse'
import type { Writable } from 'node:stream'
import {
  channelKind,
  checkInput,
  checkTable,
  InputError,
  newJobSchema,
  RUN_KINDS,
  type ChannelInfo,
  type Entry,
  type Job,
  type NewJob,
  type RunKind,
} from '@yuzumix/core'
import type { Store } from '../store/database'
import { listEntries, writeEntry } from '../store/entries'
import { createJobRow } from '../store/jobs'
import type { RevisionRow } from '../store/models'
import { insertRun, listRuns, readChannel, toFloats } from '../store/runs'
import { insertTable, listTables } from '../store/tables'

/** Format name inside a job archive; see docs/job.schema.json. */
export const JOB_FORMAT = 'yuzumix-job/1'

/** A job archive that cannot be read. */
export class ArchiveError extends Error {
  constructor(
    message: string,
    readonly field = 'file',
  ) {
    super(message)
  }
}

interface ArchivedRun {
  name: string
  kind: RunKind
  duration: number
  warnings: string[]
  gaugeScale: number | null
  digest: string
  channels: ChannelInfo[]
  samples: number
  /** name of the CSV inside the archive */
  file: string
}

interface ArchivedTable {
  name: string
  cylinder: number | null
  table: unknown
  revisions: Omit<RevisionRow, 'tableId'>[]
}

interface ArchivedJob {
  format: typeof JOB_FORMAT
  job: NewJob & { archived?: boolean }
  runs: ArchivedRun[]
  tables: ArchivedTable[]
  entries: Omit<Entry, 'id'>[]
}

const ROWS_AT_ONCE = 20_000

/** Shortest decimal that reads back as the same float32; empty for no reading. */
function floatText(value: number): string {
  if (Number.isNaN(value)) return ''
  for (let digits = 6; digits <= 9; digits++) {
    const text = value.toPrecision(digits)
    if (Math.fround(Number(text)) === value) return String(Number(text))
  }
  return String(value)
}

/** Writes a job with all it holds as one zip: job.json, and a CSV per run. */
export async function packJob(store: Store, job: Job, out: Writable): Promise<void> {
  const { id, createdAt: _made, runCount: _runs, tableCount: _tables, ...fields } = job
  const [runs, tables, entries] = await Promise.all([
    listRuns(store, id),
    listTables(store, id),
    listEntries(store, id),
  ])
  const place = new Map(runs.map((run, k) => [run.id, k]))
  const renumber = (ids: readonly string[]): string[] =>
    ids.flatMap((one) => (place.has(one) ? [String(place.get(one))] : []))
  const zip = new Zip((error, data) => {
    if (error) out.destroy(error)
    else out.write(data)
  })
  const rows = await store.models.runs.findAll({
    where: { jobId: id, removed: false },
    order: [['position', 'ASC']],
    attributes: ['id', 'digest'],
  })
  const digests = new Map(rows.map((row) => [row.get().id, row.get().digest]))
  const content: ArchivedJob = {
    format: JOB_FORMAT,
    job: { ...fields, mixture: { ...fields.mixture, runsLeftOut: renumber(fields.mixture.runsLeftOut) } },
    runs: runs.map(({ id: runId, name, kind, duration, warnings, gaugeScale, channels, samples }, k) => ({
      name,
      kind,
      duration,
      warnings,
      gaugeScale,
      channels,
      samples,
      digest: digests.get(runId)!,
      file: `runs/${String(k + 1).padStart(3, '0')}.csv`,
    })),
    tables: await Promise.all(
      tables.map(async ({ id: tableId, name, cylinder, table }) => {
        const revisions = await store.models.revisions.findAll({ where: { tableId }, order: [['n', 'ASC']] })
        return {
          name,
          cylinder,
          table,
          revisions: revisions.map((row) => ({ ...omitTable(row.get()), runs: renumber(row.get().runs) })),
        }
      }),
    ),
    entries: entries.map(({ at, act, text }) => ({ at, act, text })),
  }
  addFile(zip, 'job.json', (push) => push(JSON.stringify(content, null, 1)))
  for (const [k, run] of runs.entries()) {
    const columns = await Promise.all(
      run.channels.map(async ({ channel }) => toFloats((await readChannel(store, run.id, channel))!)),
    )
    const file = new ZipDeflate(content.runs[k]!.file, { level: 6 })
    zip.add(file)
    file.push(
      strToU8(`${run.channels.map((one) => (one.unit ? `${one.channel} (${one.unit})` : one.channel)).join(',')}\n`),
    )
    for (let from = 0; from < run.samples; from += ROWS_AT_ONCE) {
      const lines: string[] = []
      for (let i = from; i < Math.min(run.samples, from + ROWS_AT_ONCE); i++)
        lines.push(columns.map((column) => floatText(column[i]!)).join(','))
      file.push(strToU8(`${lines.join('\n')}\n`))
      if (out.writableNeedDrain) await new Promise((resolve) => out.once('drain', resolve))
    }
    file.push(new Uint8Array(0), true)
  }
  zip.end()
  out.end()
}

function omitTable({ tableId: _table, ...revision }: RevisionRow): Omit<RevisionRow, 'tableId'> {
  return revision
}

function addFile(zip: Zip, name: string, write: (push: (text: string) => void) => void): void {
  const file = new ZipDeflate(name, { level: 6 })
  zip.add(file)
  write((text) => file.push(strToU8(text)))
  file.push(new Uint8Array(0), true)
}

const MOST_UNPACKED = 2 * 1024 ** 3
const MOST_FILES = 3000

/** Files of a zip by name. Bounded, so that a small file cannot unpack to fill the machine. */
function unzip(content: Uint8Array): Map<string, Uint8Array> {
  const files = new Map<string, Uint8Array>()
  let total = 0
  const reader = new Unzip((file) => {
    if (files.size >= MOST_FILES) throw new ArchiveError('The archive holds too many files.')
    const parts: Uint8Array[] = []
    file.ondata = (error, data, final) => {
      if (error) throw new ArchiveError(`The archive is damaged at "${file.name.slice(0, 60)}".`)
      total += data.length
      if (total > MOST_UNPACKED) throw new ArchiveError('The archive unpacks to more than 2 GB.')
      parts.push(data)
      if (final) files.set(file.name, parts.length === 1 ? parts[0]! : Buffer.concat(parts))
    }
    file.start()
  })
  reader.register(UnzipInflate)
  reader.register(UnzipPassThrough)
  try {
    reader.push(content, true)
  } catch (error) {
    throw error instanceof ArchiveError ? error : new ArchiveError('The file is not a zip archive, or it is damaged.')
  }
  return files
}

/**
 * Stores a job from its archive under a new id, all or nothing.
 *
 * @returns the id
 * @throws ArchiveError when it is no job archive
 */
export async function unpackJob(store: Store, content: Uint8Array): Promise<string> {
  const files = unzip(content)
  const archived = readJobFile(files)
  const runs = archived.runs.map((run) => ({ run, columns: readRunFile(files, run) }))
  const tables = archived.tables.map((one) => {
    const table = checkTable(one.table)
    if (!Array.isArray(one.revisions) || one.revisions.length === 0)
      throw new ArchiveError(`Table "${String(one.name)}" has no revisions.`, 'tables')
    one.revisions.forEach((revision) => checkTable({ ...table, values: revision.cells }))
    return { ...one, table }
  })
  return store.act(async (transaction) => {
    const { archived: _was, ...fields } = archived.job
    const id = await createJobRow(store, transaction, fields)
    const ids: string[] = []
    for (const { run, columns } of runs) {
      ids.push(
        await insertRun(store, transaction, id, {
          ...run,
          channels: run.channels.map((info, k) => ({ ...info, load: () => Promise.resolve(columns[k]!) })),
        }),
      )
    }
    const renumber = (places: readonly string[]): string[] => places.flatMap((place) => ids[Number(place)] ?? [])
    if (fields.mixture) {
      await store.models.jobs.update(
        {
          data: {
            ...withoutTitle(fields),
            mixture: { ...fields.mixture, runsLeftOut: renumber(fields.mixture.runsLeftOut) },
          },
        },
        { where: { id }, transaction },
      )
    }
    for (const { name, cylinder, table, revisions } of tables) {
      await insertTable(
        store,
        transaction,
        id,
        { name, cylinder, table },
        revisions.map((one) => ({ ...one, runs: renumber(one.runs) })),
      )
    }
    for (const { at, act, text } of archived.entries)
      await store.models.entries.create({ id: crypto.randomUUID(), jobId: id, at, act, text }, { transaction })
    await writeEntry(store, transaction, id, 'job read from an archive', fields.title)
    return id
  })
}

function withoutTitle({ title: _title, ...data }: NewJob): Omit<NewJob, 'title'> {
  return data
}

function readJobFile(files: Map<string, Uint8Array>): ArchivedJob {
  const file = files.get('job.json')
  if (!file) throw new ArchiveError('The archive has no job.json, so it is no job archive.')
  let raw: Partial<ArchivedJob>
  try {
    raw = JSON.parse(strFromU8(file)) as Partial<ArchivedJob>
  } catch {
    throw new ArchiveError('job.json in the archive is not JSON.', 'job.json')
  }
  if (raw.format !== JOB_FORMAT) throw new ArchiveError(`The archive is not of format "${JOB_FORMAT}".`, 'format')
  for (const list of ['runs', 'tables', 'entries'] as const)
    if (!Array.isArray(raw[list])) throw new ArchiveError(`job.json has no list "${list}".`, list)
  try {
    const { archived: _was, ...fields } = raw.job as NewJob & { archived?: boolean }
    checkInput<unknown>(newJobSchema, fields)
  } catch (error) {
    if (error instanceof InputError)
      throw new ArchiveError(`job.json cannot be used: ${error.message}.`, `job.${error.faults[0]!.field}`)
    throw new ArchiveError('job.json has no job.', 'job')
  }
  const words = (raw.entries as Entry[]).every(
    (one) => typeof one.at === 'string' && typeof one.act === 'string' && typeof one.text === 'string',
  )
  if (!words) throw new ArchiveError('An entry in job.json is not made of text.', 'entries')
  return raw as ArchivedJob
}

function readRunFile(files: Map<string, Uint8Array>, run: ArchivedRun): Float32Array[] {
  const file = files.get(run.file)
  const named =
    Array.isArray(run.channels) &&
    run.channels.every((one) => channelKind(one.channel)) &&
    RUN_KINDS.includes(run.kind) &&
    typeof run.name === 'string'
  if (!file || !named) throw new ArchiveError(`Run "${String(run.name)}" is incomplete in the archive.`, 'runs')
  const { data } = Papa.parse<string[]>(strFromU8(file), { delimiter: ',', skipEmptyLines: true })
  const rows = data.length - 1
  if (rows !== run.samples)
    throw new ArchiveError(`${run.file} has ${rows} rows, but the run ${run.samples} samples.`, run.file)
  return run.channels.map((info, k) => {
    const column = new Float32Array(rows)
    for (let i = 0; i < rows; i++) {
      const text = data[i + 1]![k] ?? ''
      const value = text === '' ? NaN : Number(text)
      if (text !== '' && Number.isNaN(value))
        throw new ArchiveError(
          `${run.file}, line ${i + 2}: "${text.slice(0, 20)}" is not a number (${info.channel}).`,
          run.file,
        )
      column[i] = value
    }
    return column
  })
}
