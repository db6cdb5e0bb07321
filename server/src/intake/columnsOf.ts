import Papa from 'papaparse'
import { refused, type LogLayout, type LogReader } from '@yuzumix/core'

type Layout = Pick<LogLayout, 'delimiter' | 'dataLine'>

const NEWLINE = 10
const QUOTE = 34
const RETURN = 13
const BLANK = 32
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
    if (!lines || lines.includes(QUOTE) || endsInReturns(lines)) {
      yield* parseRest(line)
      return
    }
    if (line === 1) line = layout.dataLine
    unread = unread.subarray(cut)
    yield reader.pushLines(lines, layout.delimiter, line, decode)
    line += count(lines, NEWLINE)
  }
  if (unread.includes(QUOTE) || endsInReturns(unread)) yield* parseRest(line)
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
  let line = firstLine
  for await (const rows of wholeRows(text, delimiter, firstLine)) {
    const { data } = Papa.parse<string[]>(rows, { delimiter, newline: '\n' })
    const from = Math.min(data.length, Math.max(0, dataLine - line))
    yield reader.push(data.slice(from), line + from)
    line += data.length
  }
}

const tooLong = (line: number) =>
  refused(
    'no-log',
    `Line ${line} has more than a million characters before it ends: a quote that is not closed, or no log. Look at it there, and export it again.`,
    'file',
  )

/**
 * The text by whole rows, every end of a line as "\n", the last one of a piece left out.
 *
 * @throws Refusal 'no-log' for a row that is longer than any log's
 */
async function* wholeRows(text: AsyncGenerator<string>, delimiter: string, firstLine: number): AsyncGenerator<string> {
  const apart = delimiter.charCodeAt(0)
  // A quote opens a cell where it begins, and ends it before a delimiter or the end of a line only (RFC 4180).
  let state: 'start' | 'plain' | 'quoted' | 'ending' = 'start'
  let unread = ''
  let [line, began] = [firstLine, firstLine]
  for await (const part of withPlainEnds(text)) {
    const known = unread.length
    unread += part
    let end = -1
    for (let at = 0; at < part.length; at++) {
      const code = part.charCodeAt(at)
      if (code === NEWLINE) line++
      if (state === 'quoted') {
        if (code === QUOTE) state = 'ending'
      } else if (code === NEWLINE || code === apart) {
        state = 'start'
        if (code === NEWLINE) [end, began] = [known + at, line]
      } else if (state === 'ending') {
        if (code !== BLANK) state = 'quoted'
      } else state = state === 'start' && code === QUOTE ? 'quoted' : 'plain'
    }
    if (unread.length - end > LONGEST_LINE) throw tooLong(began)
    if (end < 0) continue
    yield unread.slice(0, end)
    unread = unread.slice(end + 1)
  }
  if (unread) yield unread
}

/** Text with every end of a line as "\n". */
async function* withPlainEnds(text: AsyncGenerator<string>): AsyncGenerator<string> {
  let isCut = false
  for await (const part of text) {
    const whole: string = isCut ? `\r${part}` : part
    isCut = whole.endsWith('\r')
    yield (isCut ? whole.slice(0, -1) : whole).replace(/\r\n?/g, '\n')
  }
  if (isCut) yield '\n'
}

/** Text of what was read and not used, and of all pieces after it, without a byte order mark. */
async function* decoded(first: Buffer, parts: AsyncGenerator<Buffer>, encoding: string): AsyncGenerator<string> {
  const decoder = new TextDecoder(encoding)
  yield decoder.decode(first, { stream: true })
  for await (const part of parts) yield decoder.decode(part, { stream: true })
  yield decoder.decode()
}

/** Whether a line ends in a return alone, as old systems wrote it. */
function endsInReturns(bytes: Buffer): boolean {
  for (let at = bytes.indexOf(RETURN); at >= 0; at = bytes.indexOf(RETURN, at + 1))
    if (bytes[at + 1] !== NEWLINE) return true
  return false
}

/** The pieces, without closing their source when the loop over them is left. */
async function* keepOpen(parts: AsyncGenerator<Buffer>): AsyncGenerator<Buffer> {
  for (let next = await parts.next(); !next.done; next = await parts.next()) yield next.value
}

function count(bytes: Buffer, code: number): number {
  let found = 0
  for (let at = 0; at < bytes.length; at++) if (bytes[at] === code) found++
  return found
}
