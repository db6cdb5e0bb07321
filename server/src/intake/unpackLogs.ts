import { closeSync, createReadStream, createWriteStream, openSync, readSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { createGunzip } from 'node:zlib'
import { Unzip, UnzipInflate } from 'fflate'
import Papa from 'papaparse'
import { Refusal } from '@yuzumix/core'

/** A log that came inside another file, and those that could not be unpacked. */
export interface Unpacked {
  files: { path: string; name: string }[]
  refused: { file: string; detail: string }[]
}

/** Logs in one archive, and bytes that all of them may have together. */
const MOST_FILES = 200
const MOST_BYTES = 2 * 1024 ** 3
/** Rows and cells of a workbook. */
const MOST_ROWS = 1_048_576
const MOST_CELLS = 20_000_000

const tooLarge = (): Refusal =>
  new Refusal('too-large', `What is inside has more than ${MOST_BYTES / 1024 ** 2} MB. Send it in parts.`, [
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
    if (error instanceof Refusal) throw error
    throw new Refusal('no-log', 'The packed file is damaged, or packed in a way that is not known here. Pack it again.')
  }
}

async function gunzip(path: string, name: string, folder: string): Promise<Unpacked> {
  const to = join(folder, '1.log')
  let bytes = 0
  const counted = new Transform({
    transform(part: Buffer, _, done) {
      bytes += part.length
      done(bytes > MOST_BYTES ? tooLarge() : null, part)
    },
  })
  await pipeline(createReadStream(path), createGunzip(), counted, createWriteStream(to))
  return { files: [{ path: to, name: name.replace(/\.gz$/i, '') }], refused: [] }
}

/** Entries that systems put into archives beside the files. */
const isBeside = (name: string): boolean => name.endsWith('/') || /(^|\/)(__MACOSX\/|\.)/.test(name)

async function unzip(path: string, name: string, folder: string): Promise<Unpacked> {
  const files: Unpacked['files'] = []
  const refused: Unpacked['refused'] = []
  let bytes = 0
  let isWorkbook = false
  const fault: { error: Error | null } = { error: null }
  const open = new Set<number>()
  const close = (out: number): void => {
    if (open.delete(out)) closeSync(out)
  }
  const archive = new Unzip((entry) => {
    if (entry.name === '[Content_Types].xml') isWorkbook = true
    if (isWorkbook || isBeside(entry.name)) return
    const own = (entry.name.split(/[\\/]/).at(-1) ?? '').slice(0, 160)
    if (files.length >= MOST_FILES) {
      refused.push({ file: own, detail: `Only the first ${MOST_FILES} files of an archive are read.` })
      return
    }
    const to = join(folder, `${files.length + 1}.log`)
    const out = openSync(to, 'w')
    open.add(out)
    files.push({ path: to, name: own })
    entry.ondata = (error, part, last) => {
      if (error) fault.error ??= error
      else {
        bytes += part.length
        if (bytes > MOST_BYTES) fault.error ??= tooLarge()
        else writeFileSync(out, part)
      }
      if (last || error) close(out)
    }
    entry.start()
  })
  archive.register(UnzipInflate)
  try {
    for await (const part of createReadStream(path, { highWaterMark: 1 << 16 }) as AsyncIterable<Buffer>) {
      archive.push(part)
      if (fault.error) throw fault.error
      if (isWorkbook) return { files: [{ path: await csvOf(path, folder), name }], refused: [] }
    }
    archive.push(new Uint8Array(0), true)
    if (fault.error) throw fault.error
  } finally {
    // What is damaged ends no file by itself.
    for (const out of [...open]) close(out)
  }
  if (files.length === 0) throw new Refusal('no-log', 'There is no file in the archive.')
  return { files, refused }
}

/** The first sheet of a workbook that holds rows, as CSV. */
async function csvOf(path: string, folder: string): Promise<string> {
  const { default: excel } = await import('exceljs')
  const reader = new excel.stream.xlsx.WorkbookReader(path, {
    worksheets: 'emit',
    sharedStrings: 'cache',
    styles: 'cache',
    hyperlinks: 'ignore',
    entries: 'ignore',
  })
  const to = join(folder, 'sheet.csv')
  const out = openSync(to, 'w')
  let [rows, cells] = [0, 0]
  try {
    for await (const sheet of reader) {
      for await (const row of sheet) {
        const values = (row.values as unknown[]).slice(1)
        cells += values.length
        if (++rows > MOST_ROWS || cells > MOST_CELLS) throw tooLarge()
        writeFileSync(out, `${Papa.unparse([values.map(cellText)])}\n`)
      }
      if (rows > 0) break
    }
  } finally {
    closeSync(out)
  }
  if (rows === 0) throw new Refusal('no-log', 'The workbook has no sheet with rows.')
  return to
}

/** A cell as text; times as ISO, formulas by what they came to. */
function cellText(value: unknown): string {
  if (value === null || value === undefined) return ''
  if (value instanceof Date) return value.toISOString()
  if (typeof value === 'string') return value
  if (typeof value === 'number' || typeof value === 'boolean') return String(value)
  if (typeof value !== 'object') return ''
  const { result, text, richText } = value as { result?: unknown; text?: unknown; richText?: { text: string }[] }
  if (richText) return richText.map((one) => one.text).join('')
  return cellText(result ?? text ?? '')
}
