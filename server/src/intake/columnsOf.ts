import { pipeline, Readable } from 'node:stream'
import Papa from 'papaparse'
import { refused, type LogLayout, type LogReader } from '@yuzumix/core'

type Layout = Pick<LogLayout, 'delimiter' | 'dataLine'>

const NEWLINE = 10
const QUOTE = 34
const RETURN = 13
const BLANK = 32
/** Parsed rows handed over at once. */
const BATCH = 2000
/** Bytes or characters of one line, beyond which a file is no log: thousands of columns have far fewer. */
const LONGEST_LINE = 1024 ** 2

/**
 * Reads a log piece by piece. Nearly all logs are plain lines of numbers, which the reader takes as they are; from the
 * first quote on, or where lines do not end in "\n", the CSV parser takes over.
 *
 * @param parts pieces of the file, cut anywhere, in an encoding that extends ASCII
 * @returns the columns of each piece, as `LogReader.push` returns them
 */
export async function* columnsOf(
  parts: AsyncGenerator<Buffer>,
  encoding: string,
  reader: LogReader,
  layout: Layout,
): AsyncGenerator<Float32Array[]> {
  const decoder = new TextDecoder(encoding)
  const decode = (bytes: Uint8Array): string => decoder.decode(bytes)
  const parseRest = (line: number): AsyncGenerator<Float32Array[]> =>
    parsedColumns(decoded(unread, parts, encoding), reader, layout, line)
  let unread: Buffer = Buffer.alloc(0)
  let line = 1
  for await (const part of keepOpen(parts)) {
    unread = Buffer.concat([unread, part])
    const cut = unread.lastIndexOf(NEWLINE) + 1
    // Looked at before it grows: each piece is put behind all that is unread.
    if (cut === 0 && unread.length > LONGEST_LINE) {
      if (!unread.includes(RETURN)) throw tooLong(line)
      yield* parseRest(line)
      return
    }
    if (cut === 0 && line > 1) continue
    const whole = unread.subarray(0, cut)
    const lines = line > 1 ? whole : belowHead(whole, layout.dataLine)
    if (!lines || lines.includes(QUOTE)) {
      yield* parseRest(line)
      return
    }
    if (line === 1) line = layout.dataLine
    unread = unread.subarray(cut)
    yield reader.pushLines(lines, layout.delimiter, line, decode)
    line += count(lines, NEWLINE)
  }
  if (unread.includes(QUOTE)) yield* parseRest(line)
  else if (unread.length > 0) yield reader.pushLines(unread, layout.delimiter, line, decode)
}

/** What lies below the lines above `dataLine`; null where these are cut or hold line ends in quotes. */
function belowHead(bytes: Buffer, dataLine: number): Buffer | null {
  let at = 0
  for (let line = 1; line < dataLine; line++) {
    const end = bytes.indexOf(NEWLINE, at) + 1
    if (end === 0 || count(bytes.subarray(at, end), QUOTE) % 2 === 1) return null
    at = end
  }
  return bytes.length === 0 ? null : bytes.subarray(at)
}

/** Columns by way of the CSV parser, from a given line of the file on. */
async function* parsedColumns(
  text: AsyncGenerator<string>,
  reader: LogReader,
  { delimiter, dataLine }: Layout,
  firstLine: number,
): AsyncGenerator<Float32Array[]> {
  const rows = pipeline(
    Readable.from(bounded(text, delimiter, firstLine)),
    Papa.parse(Papa.NODE_STREAM_INPUT, { delimiter }),
    () => {
      // A fault of the source reaches the loop below, because it closes the parser with it.
    },
  )
  let line = firstLine
  let batch: string[][] = []
  for await (const row of rows) {
    if (line++ < dataLine) continue
    batch.push(row as string[])
    if (batch.length < BATCH) continue
    yield reader.push(batch, line - batch.length)
    batch = []
  }
  if (batch.length) yield reader.push(batch, line - batch.length)
}

const tooLong = (line: number) =>
  refused(
    'no-log',
    `Line ${line} has more than a million characters before it ends: a quote that is not closed, or no log. Look at it there, and export it again.`,
    'file',
  )

/** The text, as long as no row of it is longer than any log's: a parser would look at such a one again with every piece. */
async function* bounded(text: AsyncGenerator<string>, delimiter: string, firstLine: number): AsyncGenerator<string> {
  const apart = delimiter.charCodeAt(0)
  // A quote opens a cell where it begins, and ends it before a delimiter or the end of a line only (RFC 4180).
  let state: 'start' | 'plain' | 'quoted' | 'ending' = 'start'
  let [length, line] = [0, firstLine]
  for await (const part of text) {
    for (let at = 0; at < part.length; at++) {
      const code = part.charCodeAt(at)
      const isEnd = code === NEWLINE || code === RETURN
      if (code === NEWLINE) line++
      if (state === 'quoted') {
        if (code === QUOTE) state = 'ending'
      } else if (isEnd || code === apart) {
        state = 'start'
        if (isEnd) length = -1
      } else if (state === 'ending') {
        if (code !== BLANK) state = 'quoted'
      } else state = state === 'start' && code === QUOTE ? 'quoted' : 'plain'
      if (++length > LONGEST_LINE) throw tooLong(line)
    }
    yield part
  }
}

/** Text of what was read and not used, and of all pieces after it, without a byte order mark. */
async function* decoded(first: Buffer, parts: AsyncGenerator<Buffer>, encoding: string): AsyncGenerator<string> {
  const decoder = new TextDecoder(encoding)
  yield decoder.decode(first, { stream: true })
  for await (const part of parts) yield decoder.decode(part, { stream: true })
  yield decoder.decode()
}

/** The pieces, without closing their source when the loop over them is left. */
async function* keepOpen(parts: AsyncGenerator<Buffer>): AsyncGenerator<Buffer> {
  for (let next = await parts.next(); !next.done; next = await parts.next()) yield next.value
}

function count(bytes: Buffer, code: number): number {
  let found = 0
  for (let at = bytes.indexOf(code); at >= 0; at = bytes.indexOf(code, at + 1)) found++
  return found
}
