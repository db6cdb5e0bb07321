import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { MessagePort } from 'node:worker_threads'
import {
  archiveSchema,
  checkInput,
  checkTable,
  DEFAULT_MIXTURE,
  factsAsRead,
  historyDangers,
  isRefusal,
  JOB_FORMAT,
  jobTarget,
  leanTargets,
  Refusal,
  refused,
  type ArchivedJob,
  type ArchivedRun,
  type Danger,
  type RunFacts,
  type Table,
} from '@yuzumix/core'
import { checkPhoto, type Photo } from '../intake/photo'
import { openZip, type OpenZip } from '../zip/readZip'
import { withNamesOfToday } from './earlierNames'
import { csvOfRun } from './runFile'
import { rigMemoryFault } from '../rigs/memoryFits'

/** An archive to read, and the folder that what is inside goes to. */
export interface ArchiveJob {
  path: string
  folder: string
  progress?: MessagePort | undefined
}

/** A job archive that was read and found in order: its columns and photos lie in files. */
export interface ArchiveRead {
  archived: ArchivedJob
  tables: Table[]
  runs: { spills: string[]; duration: number; facts: RunFacts }[]
  /** of each entry of the logbook */
  photos: ({ type: Photo['type']; path: string } | null)[]
  /** what of it can hurt */
  dangers: Danger[]
}

const LIMITS = { entries: 3000, bytes: 2 * 1024 ** 3 }
const MOST_OF_JOB = 64 * 1024 ** 2
/** Logbooks and revisions grow over the years. */
const MOST_IN_JOB = { list: 500_000, values: 5_000_000 }
const MOST_OF_PHOTO = 16 * 1024 ** 2
/** Samples times channels of all runs: more than ten hours at 100 Hz with 50 channels. */
const MOST_VALUES = 250_000_000

/**
 * Reads a job archive, as a stream: memory does not grow with its runs.
 *
 * @throws Refusal 'no-archive' when it is no job archive, or something in it cannot be used
 */
export async function readArchive({ path, folder, progress }: ArchiveJob): Promise<ArchiveRead> {
  const zip = await openZip(path, LIMITS, 'no-archive')
  try {
    refuseTwice(zip)
    const archived = await readJobFile(zip)
    const tables = tablesOf(archived)
    for (const { machine, memory } of archived.rigs ?? []) {
      const fault = rigMemoryFault(machine, memory)
      if (fault) throw refused('no-archive', `What the rig remembers of "${machine}" cannot be used: ${fault}.`, 'rigs')
    }
    const total = archived.runs.reduce((sum, run) => sum + run.samples * run.channels.length, 0)
    if (total > MOST_VALUES)
      throw refused(
        'no-archive',
        `The runs of the archive have ${total} values: that is more than is read at once.`,
        'runs',
      )
    const runs: ArchiveRead['runs'] = []
    let done = 0
    for (const [k, run] of archived.runs.entries()) {
      const spills = run.channels.map((_, c) => join(folder, `${k}-${c}.f32`))
      await readRun(zip, run, spills)
      runs.push({ spills, ...toldBy(run, spills) })
      done += run.samples * run.channels.length
      progress?.postMessage(done / total)
    }
    const photos: ArchiveRead['photos'] = []
    for (const [k, { photo }] of archived.entries.entries()) {
      if (!photo) {
        photos.push(null)
        continue
      }
      const { type, data } = await readPhoto(zip, photo.file)
      const to = join(folder, `${k}.photo`)
      writeFileSync(to, data)
      photos.push({ type, path: to })
    }
    return { archived, tables, runs, photos, dangers: archiveDangers(archived, tables) }
  } finally {
    zip.close()
  }
}

/** @throws Refusal where two members have one name: which of them is meant, nobody knows */
function refuseTwice({ members, member }: OpenZip): void {
  const twice = members.find((one) => member(one.name) !== one)
  if (twice) throw refused('no-archive', `The archive holds "${twice.name.slice(0, 60)}" twice.`, 'file')
}

async function readJobFile(zip: OpenZip): Promise<ArchivedJob> {
  const file = zip.member('job.json')
  if (!file) throw refused('no-archive', 'The archive has no job.json, so it is no job archive.', 'file')
  const content = await file.content(MOST_OF_JOB)
  let raw: Partial<ArchivedJob> | null
  try {
    raw = JSON.parse(content.toString()) as Partial<ArchivedJob> | null
  } catch {
    throw refused('no-archive', 'job.json in the archive is not JSON.', 'job.json')
  }
  if (raw?.format !== JOB_FORMAT) throw refused('no-archive', `The archive is not of format "${JOB_FORMAT}".`, 'format')
  try {
    return checkInput(archiveSchema, { ...raw, job: withNamesOfToday(raw.job ?? {}) }, MOST_IN_JOB)
  } catch (error) {
    if (!isRefusal(error, 'input-refused')) throw error
    throw refused(
      'no-archive',
      `job.json cannot be used: ${error.faults
        .slice(0, 3)
        .map(({ field, message }) => `${field} ${message}`)
        .join('; ')}${error.faults.length > 3 ? `; and ${error.faults.length - 3} more` : ''}.`,
      error.faults[0]!.field!,
    )
  }
}

function tablesOf({ tables }: ArchivedJob): Table[] {
  return tables.map((one) => {
    const table = checkTable(one.table)
    one.revisions.forEach((revision) => checkTable({ ...table, values: revision.cells }))
    return table
  })
}

async function readRun(zip: OpenZip, run: ArchivedRun, spills: readonly string[]): Promise<void> {
  const file = zip.member(run.file)
  if (!file) throw refused('no-archive', `Run "${run.name}" has no file "${run.file}" in the archive.`, 'runs')
  try {
    await csvOfRun(await file.stream(), run, spills)
  } catch (error) {
    if (error instanceof Refusal || (error as { syscall?: string }).syscall !== undefined) throw error
    throw refused('no-archive', `The archive is damaged at "${run.file.slice(0, 60)}". Export it again.`, run.file)
  }
}

/** What the columns of a run tell of it; those that are not asked for are not read. */
function toldBy(run: ArchivedRun, spills: readonly string[]): { duration: number; facts: RunFacts } {
  const column = (channel: string): Float32Array | null => {
    const at = run.channels.findIndex((one) => one.channel === channel)
    if (at < 0) return null
    const bytes = readFileSync(spills[at]!)
    return new Float32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4)
  }
  const time = column('time')
  return {
    duration: run.duration ?? (time?.length ? time.at(-1)! - time[0]! : 0),
    facts: factsAsRead(run.readAs, column, run.kind, run),
  }
}

/** A photo of the archive, checked as any other. @throws Refusal 'no-archive' */
async function readPhoto(zip: OpenZip, name: string): Promise<Photo> {
  const file = zip.member(name)
  if (!file) throw refused('no-archive', `The archive has no "${name}".`, 'entries')
  const content = await file.content(MOST_OF_PHOTO)
  try {
    return checkPhoto(content)
  } catch (error) {
    throw refused('no-archive', `${name}: ${(error as Error).message}`, name)
  }
}

/** What of an archive can hurt: judged as it is read, whoever wrote it. */
function archiveDangers({ job, runs, tables }: ArchivedJob, checked: readonly Table[]): Danger[] {
  const { mixture = DEFAULT_MIXTURE, jetting } = job
  return [
    ...tables.flatMap(({ name, revisions }, place) =>
      historyDangers(
        checked[place]!,
        name,
        revisions.map((one) => ({ ...one, values: one.cells, override: one.override ?? null })),
        runs.map((run) => ({
          createdAt: run.createdAt ?? '',
          revision: run.revisions?.[String(place)] ?? null,
        })),
        `tables[${place}].`,
      ),
    ),
    ...leanTargets(null, jobTarget({ mixture, jetting }), 'job.mixture.target'),
  ]
}
