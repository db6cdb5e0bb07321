import { strFromU8, Unzip, UnzipInflate, UnzipPassThrough } from 'fflate'
import Papa from 'papaparse'
import {
  isRefusal,
  refused,
  archiveSchema,
  checkInput,
  JOB_FORMAT,
  type ArchivedJob,
  type ArchivedRun,
} from '@yuzumix/core'
import { checkPhoto, type Photo } from '../intake/photo'
import { withNamesOfToday } from './earlierNames'

const MOST_UNPACKED = 2 * 1024 ** 3

const MOST_FILES = 3000

/** Files of a zip by name. Bounded, so that a small file cannot unpack to fill the machine. */
export function unzip(content: Uint8Array): Map<string, Uint8Array> {
  const files = new Map<string, Uint8Array>()
  let total = 0
  const reader = new Unzip((file) => {
    if (files.size >= MOST_FILES) throw refused('no-archive', 'The archive holds too many files.', 'file')
    const parts: Uint8Array[] = []
    file.ondata = (error, data, final) => {
      if (error) throw refused('no-archive', `The archive is damaged at "${file.name.slice(0, 60)}".`, 'file')
      total += data.length
      if (total > MOST_UNPACKED) throw refused('no-archive', 'The archive unpacks to more than 2 GB.', 'file')
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
    throw isRefusal(error, 'no-archive')
      ? error
      : refused('no-archive', 'The file is not a zip archive, or it is damaged.', 'file')
  }
  return files
}

export function readJobFile(files: Map<string, Uint8Array>): ArchivedJob {
  const file = files.get('job.json')
  if (!file) throw refused('no-archive', 'The archive has no job.json, so it is no job archive.', 'file')
  let raw: Partial<ArchivedJob> | null
  try {
    raw = JSON.parse(strFromU8(file)) as Partial<ArchivedJob> | null
  } catch {
    throw refused('no-archive', 'job.json in the archive is not JSON.', 'job.json')
  }
  if (raw?.format !== JOB_FORMAT) throw refused('no-archive', `The archive is not of format "${JOB_FORMAT}".`, 'format')
  try {
    return checkInput(archiveSchema, { ...raw, job: withNamesOfToday(raw.job ?? {}) })
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

/** A photo of the archive, checked as any other. @throws Refusal 'no-archive' */
export function readPhoto(files: Map<string, Uint8Array>, name: string): Photo {
  const file = files.get(name)
  if (!file) throw refused('no-archive', `The archive has no "${name}".`, 'entries')
  try {
    return checkPhoto(Buffer.from(file))
  } catch (error) {
    throw refused('no-archive', `${name}: ${(error as Error).message}`, name)
  }
}

export function readRunFile(files: Map<string, Uint8Array>, run: ArchivedRun): Float32Array[] {
  const file = files.get(run.file)
  if (!file) throw refused('no-archive', `Run "${run.name}" has no file "${run.file}" in the archive.`, 'runs')
  const { data } = Papa.parse<string[]>(strFromU8(file), { delimiter: ',', skipEmptyLines: true })
  const rows = data.length - 1
  if (rows !== run.samples)
    throw refused('no-archive', `${run.file} has ${rows} rows, but the run ${run.samples} samples.`, run.file)
  return run.channels.map((info, k) => {
    const column = new Float32Array(rows)
    for (let i = 0; i < rows; i++) {
      const text = data[i + 1]![k] ?? ''
      const value = text === '' ? NaN : Number(text)
      if (text !== '' && Number.isNaN(value))
        throw refused(
          'no-archive',
          `${run.file}, line ${i + 2}: "${text.slice(0, 20)}" is not a number (${info.channel}).`,
          run.file,
        )
      column[i] = value
    }
    return column
  })
}
