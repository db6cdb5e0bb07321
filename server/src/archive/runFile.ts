import { closeSync, openSync, readSync, writeFileSync } from 'node:fs'
import type { Readable } from 'node:stream'
import { scanLines, refused, type ArchivedRun, type ChannelInfo } from '@yuzumix/core'

/** Rows written at once. */
export const ROWS_AT_ONCE = 10_000
/** Bytes of a line beyond which it is none of ours. */
const LONGEST_LINE = 64 * 1024
/** Bytes that are read together: each piece is written to every channel's file. */
const LEAST_PIECE = 512 * 1024
const [NEWLINE, COMMA, MINUS, POINT, ZERO] = [10, 44, 45, 46, 48]

/**
 * A run's columns as CSV, piece by piece: a header of channel (unit), then a row per sample; an empty cell is no reading.
 *
 * @param spills a file for each channel, float32
 */
export function* runAsCsv(
  channels: readonly Pick<ChannelInfo, 'channel' | 'unit'>[],
  samples: number,
  spills: readonly string[],
): Generator<Buffer> {
  yield Buffer.from(`${channels.map((one) => (one.unit ? `${one.channel} (${one.unit})` : one.channel)).join(',')}\n`)
  const files = spills.map((path) => openSync(path, 'r'))
  try {
    for (let from = 0; from < samples; from += ROWS_AT_ONCE) {
      const rows = Math.min(ROWS_AT_ONCE, samples - from)
      const columns = files.map((file) => {
        const column = new Float32Array(rows)
        readSync(file, new Uint8Array(column.buffer), 0, 4 * rows, 4 * from)
        return column
      })
      const out = Buffer.allocUnsafe(rows * columns.length * LONGEST_CELL)
      let at = 0
      for (let i = 0; i < rows; i++) {
        for (let c = 0; c < columns.length; c++) {
          if (c > 0) out[at++] = COMMA
          at = writeFloat(out, at, columns[c]![i]!)
        }
        out[at++] = NEWLINE
      }
      yield out.subarray(0, at)
    }
  } finally {
    files.forEach(closeSync)
  }
}

/** Decimals that are tried: what was logged has few. */
const SCALES = [1, 10, 100, 1000, 10_000] as const
/** Below it a whole number times a scale is exact. */
const MOST_EXACT = 1e10
/** Characters of a number at the most, as "-1.17549435e-38", and what stands behind it. */
const LONGEST_CELL = 26

/**
 * Writes a decimal that reads back as the same float32, short where it was short; nothing for no reading.
 *
 * @returns the place behind it
 */
export function writeFloat(out: Buffer, at: number, value: number): number {
  if (value !== value) return at
  const size = Math.abs(value)
  if (size < MOST_EXACT) {
    for (let decimals = 0; decimals < SCALES.length; decimals++) {
      const scaled = Math.round(size * SCALES[decimals]!)
      if (Math.fround(scaled / SCALES[decimals]!) !== size) continue
      if (value < 0) out[at++] = MINUS
      return writeDigits(out, at, scaled, decimals)
    }
  }
  for (let digits = 6; digits <= 9; digits++) {
    const text = value.toPrecision(digits)
    if (digits === 9 || Math.fround(Number(text)) === value) return at + out.write(String(Number(text)), at, 'latin1')
  }
  return at
}

/** Writes a whole number with so many of its digits behind the point. @returns the place behind it */
function writeDigits(out: Buffer, at: number, whole: number, decimals: number): number {
  let digits = decimals + 1
  for (let rest = Math.floor(whole / SCALES[decimals]!); rest >= 10; rest = Math.floor(rest / 10)) digits++
  const end = at + digits + (decimals > 0 ? 1 : 0)
  let rest = whole
  for (let place = end - 1, written = 0; place >= at; place--) {
    if (decimals > 0 && written === decimals) {
      out[place] = POINT
      written++
      continue
    }
    const next = Math.floor(rest / 10)
    out[place] = ZERO + (rest - 10 * next)
    rest = next
    written++
  }
  return end
}

/**
 * Reads the CSV of a run into a file for each channel, float32, as a stream.
 *
 * @throws Refusal 'no-archive' where it holds no numbers, or other than the run's samples
 */
export async function csvOfRun(stream: Readable, run: ArchivedRun, spills: readonly string[]): Promise<void> {
  const no = (text: string) => refused('no-archive', text, run.file)
  const files = spills.map((path) => openSync(path, 'w'))
  const room = { values: [], lines: new Int32Array(0) }
  const scale = { factor: 1, offset: 0 }
  const scan = {
    delimiter: ',',
    decimalComma: false,
    columnOf: run.channels.map((_, k) => k),
    scales: run.channels.map(() => scale),
    decode: (bytes: Uint8Array) => Buffer.from(bytes).toString(),
    room,
    readOdd(column: number, text: string, line: number): number {
      const value = text.trim() === '' ? NaN : Number(text)
      if (text.trim() !== '' && Number.isNaN(value))
        throw no(
          `${run.file}, line ${line}: "${text.slice(0, 20)}" is not a number (${run.channels[column]!.channel}).`,
        )
      // Beyond what a float32 holds nothing is a reading.
      return Number.isFinite(Math.fround(value)) ? value : NaN
    },
    onUneven(line: number): void {
      throw no(`${run.file}, line ${line} has another number of cells than its run has channels.`)
    },
  }
  let unread: Buffer = Buffer.alloc(0)
  let waiting: Buffer[] = []
  let [line, rows, isHead, size] = [1, 0, true, 0]
  const take = (bytes: Buffer): void => {
    const { values, lines } = scanLines(bytes, { ...scan, firstLine: line })
    rows += lines.length
    if (rows > run.samples) throw no(`${run.file} has more rows than the run has samples, ${run.samples}.`)
    values.forEach((column, k) => writeFileSync(files[k]!, new Uint8Array(Float32Array.from(column).buffer)))
    line += countOf(bytes)
  }
  const takeLines = (): void => {
    unread = Buffer.concat([unread, ...waiting])
    ;[waiting, size] = [[], 0]
    if (isHead) {
      const end = unread.indexOf(NEWLINE)
      if (end < 0) throw no(`${run.file}: its first line has no end.`)
      ;[unread, line, isHead] = [unread.subarray(end + 1), 2, false]
    }
    const cut = unread.lastIndexOf(NEWLINE) + 1
    if (unread.length - cut > LONGEST_LINE)
      throw no(`${run.file}, line ${line + countOf(unread.subarray(0, cut))} has more than 64 kB.`)
    if (cut > 0) take(unread.subarray(0, cut))
    unread = unread.subarray(cut)
  }
  try {
    for await (const part of stream as AsyncIterable<Buffer>) {
      waiting.push(part)
      size += part.length
      if (size >= LEAST_PIECE) takeLines()
    }
    takeLines()
    if (unread.length) take(unread)
    if (rows !== run.samples) throw no(`${run.file} has ${rows} rows, but the run ${run.samples} samples.`)
  } finally {
    files.forEach(closeSync)
  }
}

function countOf(bytes: Buffer): number {
  let found = 0
  for (let at = bytes.indexOf(NEWLINE); at >= 0; at = bytes.indexOf(NEWLINE, at + 1)) found++
  return found
}
