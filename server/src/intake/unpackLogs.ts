import { closeSync, createReadStream, createWriteStream, openSync, readSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { createGunzip } from 'node:zlib'
import Papa from 'papaparse'
import { Refusal } from '@yuzumix/core'
import { isDiskFull } from '../folder/space'
import { openZip } from '../zip/readZip'
import { rowsOfWorkbook } from './workbook'

/** A log that came inside another file, and those that could not be unpacked. */
export interface Unpacked {
  files: { path: string; name: string }[]
  refused: { file: string; detail: string }[]
}

/** Logs in one archive, and bytes that all of them may have together. */
const MOST_FILES = 200
const MOST_BYTES = 2 * 1024 ** 3
/** Of a zip, those beside the logs among them. */
const MOST_ENTRIES = 5000
/** Rows, as many as a sheet can have, and cells of a workbook. */
const MOST_OF_SHEET = { rows: 1_048_576, cells: 20_000_000, bytes: MOST_BYTES }
/** Times its size that a gzip may unpack to, where that is more than some MB: a log packs to a tenth. */
const MOST_RATIO = 100
const SMALL = 8 * 1024 ** 2

const tooLarge = (most: number): Refusal =>
  new Refusal('too-large', `What is inside has more than ${Math.round(most / 1024 ** 2)} MB. Send it in parts.`, [
    { field: 'file', message: 'too large' },
  ])

/** What a file is packed as, by its first bytes; null for one that is read as it lies there. */
export function packedAs(path: string): 'gzip' | 'zip' | null {
  const head = Buffer.alloc(4)
  const file = openSync(path, 'r')
  try {
    readSync(file, head, 0, 4, 0)
  } finally {
    closeSync(file)
  }
  if (head[0] === 0x1f && head[1] === 0x8b) return 'gzip'
  return head.toString('latin1') === 'PK\u0003\u0004' ? 'zip' : null
}

/**
 * Unpacks the logs of a gzip, zip or XLSX file into a folder, as a stream: memory does not grow with them.
 *
 * @throws Refusal 'no-log' when there is none inside, or it is damaged; 'too-large'
 */
export async function unpackLogs(path: string, name: string, folder: string): Promise<Unpacked> {
  try {
    return packedAs(path) === 'gzip' ? await gunzip(path, name, folder) : await unzip(path, name, folder)
  } catch (error) {
    if (error instanceof Refusal || isDiskFull(error)) throw error
    throw new Refusal('no-log', 'The packed file is damaged, or packed in a way that is not known here. Pack it again.')
  }
}

async function gunzip(path: string, name: string, folder: string): Promise<Unpacked> {
  const to = join(folder, '1.log')
  const most = Math.min(MOST_BYTES, Math.max(SMALL, MOST_RATIO * statSync(path).size))
  let bytes = 0
  const counted = new Transform({
    transform(part: Buffer, _, done) {
      bytes += part.length
      done(bytes > most ? tooLarge(most) : null, part)
    },
  })
  await pipeline(createReadStream(path), createGunzip(), counted, createWriteStream(to))
  return { files: [{ path: to, name: name.replace(/\.gz$/i, '') }], refused: [] }
}

/** Entries that systems put into archives beside the files. */
const isBeside = (name: string): boolean => name.endsWith('/') || /(^|\/)(__MACOSX\/|\.)/.test(name)

async function unzip(path: string, name: string, folder: string): Promise<Unpacked> {
  const zip = await openZip(path, { entries: MOST_ENTRIES, bytes: MOST_BYTES }, 'no-log')
  try {
    if (zip.member('[Content_Types].xml')) return { files: [{ path: await csvOf(path, folder), name }], refused: [] }
    const files: Unpacked['files'] = []
    const refused: Unpacked['refused'] = []
    for (const member of zip.members.filter((one) => !isBeside(one.name))) {
      const own = (member.name.split(/[\\/]/).at(-1) ?? '').slice(0, 160)
      if (files.length >= MOST_FILES) {
        refused.push({ file: own, detail: `Only the first ${MOST_FILES} files of an archive are read.` })
        continue
      }
      const to = join(folder, `${files.length + 1}.log`)
      await pipeline(await member.stream(), createWriteStream(to))
      files.push({ path: to, name: own })
    }
    if (files.length === 0) throw new Refusal('no-log', 'There is no file in the archive.')
    return { files, refused }
  } finally {
    zip.close()
  }
}

/** The first sheet of a workbook that holds rows, as CSV. */
async function csvOf(path: string, folder: string): Promise<string> {
  const to = join(folder, 'sheet.csv')
  const out = openSync(to, 'w')
  let any = false
  try {
    for await (const rows of rowsOfWorkbook(path, MOST_OF_SHEET, 'no-log')) {
      any = true
      writeFileSync(out, `${Papa.unparse(rows)}\n`)
    }
  } finally {
    closeSync(out)
  }
  if (!any) throw new Refusal('no-log', 'The workbook has no sheet with rows.')
  return to
}
