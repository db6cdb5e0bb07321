import { closeSync, openSync, readSync, writeFileSync } from 'node:fs'
import type { Readable } from 'node:stream'
import { scanLines, refused, type ArchivedRun, type ChannelInfo } from '@yuzumix/core'

/** Rows written at once. */
export const ROWS_AT_ONCE = 10_000
/** Bytes of a line beyond which it is none of ours. */
const LONGEST_LINE = 64 * 1024
const NEWLINE = 10

/**
 * A run's columns as CSV, piece by piece: a header of channel (unit), then a row per sample; an empty cell is no reading.
 *
 * @param spills a file for each channel, float32
 */
export function* runAsCsv(
  channels: readonly Pick<ChannelInfo, 'channel' | 'unit'>[],
  samples: number,
  spills: readonly string[],
): Generator<string> {
  yield `${channels.map((one) => (one.unit ? `${one.channel} (${one.unit})` : one.channel)).join(',')}\n`
  const files = spills.map((path) => openSync(path, 'r'))
  try {
    for (let from = 0; from < samples; from += ROWS_AT_ONCE) {
      const rows = Math.min(ROWS_AT_ONCE, samples - from)
      const columns = files.map((file) => {
        const column = new Float32Array(rows)
        readSync(file, new Uint8Array(column.buffer), 0, 4 * rows, 4 * from)
        return column
      })
      let text = ''
      for (let i = 0; i < rows; i++) {
        for (let c = 0; c < columns.length; c++) text += (c ? ',' : '') + floatText(columns[c]![i]!)
        text += '\n'
      }
      yield text
    }
  } finally {
    files.forEach(closeSync)
  }
}

/**
 * A decimal that reads back as the same float32, short where it was short; empty for no reading.
 *
 * @example
 * floatText(Math.fround(12.34)) // '12.34'
 */
export function floatText(value: number): string {
  if (value !== value) return ''
  // What was logged has few decimals: found by rounding, several times as quick as by digits.
  for (const scale of SCALES) {
    const rounded = Math.round(value * scale) / scale
    if (Math.fround(rounded) === value) return String(rounded)
  }
  for (let digits = 6; digits <= 9; digits++) {
    const text = value.toPrecision(digits)
    if (Math.fround(Number(text)) === value) return String(Number(text))
  }
  return String(value)
}
const SCALES = [1, 100, 10_000]

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
  let [line, rows, isHead] = [1, 0, true]
  const take = (bytes: Buffer): void => {
    const { values, lines } = scanLines(bytes, { ...scan, firstLine: line })
    rows += lines.length
    if (rows > run.samples) throw no(`${run.file} has more rows than the run has samples, ${run.samples}.`)
    values.forEach((column, k) => writeFileSync(files[k]!, new Uint8Array(Float32Array.from(column).buffer)))
    line += countOf(bytes)
  }
  try {
    for await (const part of stream as AsyncIterable<Buffer>) {
      unread = unread.length ? Buffer.concat([unread, part]) : part
      if (isHead) {
        const end = unread.indexOf(NEWLINE)
        if (end < 0 && unread.length <= LONGEST_LINE) continue
        if (end < 0) throw no(`${run.file}: its first line has no end.`)
        ;[unread, line, isHead] = [unread.subarray(end + 1), 2, false]
      }
      const cut = unread.lastIndexOf(NEWLINE) + 1
      if (unread.length - cut > LONGEST_LINE)
        throw no(`${run.file}, line ${line + countOf(unread.subarray(0, cut))} has more than 64 kB.`)
      if (cut === 0) continue
      take(unread.subarray(0, cut))
      unread = unread.subarray(cut)
    }
    if (!isHead && unread.length) take(unread)
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
