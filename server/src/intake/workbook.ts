import { posix } from 'node:path'
import { SaxesParser } from 'saxes'
import { Refusal, refused, type Refused } from '@yuzumix/core'
import { openZip, type OpenZip, type ZipMember } from '../zip/readZip'

/** A cell of a sheet; null for an empty one. */
export type Cell = string | number | null

/** What a workbook may hold: beyond, it is refused where that shows. */
export interface WorkbookLimits {
  rows: number
  cells: number
  /** unpacked */
  bytes: number
}

/** Columns a sheet can have, by its format. */
const MOST_COLUMNS = 16_384
/** Characters of texts that cells share, all together. */
const MOST_SHARED = 64 * 1024 ** 2
/** Bytes of the parts that say what is where. */
const MOST_OF_LIST = 4 * 1024 ** 2
/** Rows that are handed over at once. */
const BATCH = 16

/** Number formats of the standard that are dates or times. */
const DATE_FORMATS = new Set([...range(14, 22), ...range(27, 36), ...range(45, 47), ...range(50, 58)])
/** Days from the first day of a sheet to that of the clock; of sheets that count from 1904. */
const [SINCE_1900, SINCE_1904] = [25_569, 24_107]
const DAY_MS = 86_400_000

/**
 * Rows of the first sheet of an XLSX workbook that holds some, as a stream: cells by their column, formulas by what they came to,
 * dates as ISO 8601.
 *
 * @param code what it is refused as
 * @returns rows in batches, open where a cell is not written; empty rows between others are empty
 * @throws Refusal where it is damaged, or larger than its limits
 * @see ECMA-376 part 1, 18.3 (worksheets) and 18.8 (styles)
 */
export async function* rowsOfWorkbook(path: string, limits: WorkbookLimits, code: Refused): AsyncGenerator<Cell[][]> {
  const damaged = (): Refusal =>
    refused(code, 'The file is not a workbook that can be read. Save it as XLSX or CSV and try again.', 'file')
  const zip = await openZip(path, { entries: 5000, bytes: limits.bytes }, code)
  try {
    const { sheets, from1904 } = await sheetsOf(zip)
    if (sheets.length === 0) throw damaged()
    const shared = await sharedTexts(zip, code)
    const dates = await dateStyles(zip)
    const dateText = (serial: number): string => {
      const at = new Date(Math.round((serial - (from1904 ? SINCE_1904 : SINCE_1900)) * DAY_MS))
      return Number.isNaN(at.getTime()) ? String(serial) : at.toISOString()
    }
    for (const sheet of sheets) {
      let any = false
      for await (const rows of rowsOfSheet(sheet, limits, code, { shared, dates, dateText })) {
        any ||= rows.length > 0
        yield rows
      }
      if (any) return
    }
  } catch (error) {
    throw error instanceof Refusal ? error : damaged()
  } finally {
    zip.close()
  }
}

interface Told {
  shared: readonly string[]
  /** styles, by place, that show a number as a date */
  dates: ReadonlySet<number>
  dateText(serial: number): string
}

/** A parser that is fed from a member of a zip. */
async function* parsed(member: ZipMember, parser: SaxesParser): AsyncGenerator<void> {
  const text = new TextDecoder()
  const fail = { error: null as Error | null }
  parser.on('error', (error) => (fail.error ??= error))
  // What it was made by may name entities of its own making: none is looked up.
  for await (const part of (await member.stream()) as AsyncIterable<Buffer>) {
    parser.write(text.decode(part, { stream: true }))
    if (fail.error) throw fail.error
    yield
  }
  parser.close()
  if (fail.error) throw fail.error
}
async function parseAll(member: ZipMember, parser: SaxesParser): Promise<void> {
  for await (const _ of parsed(member, parser));
}

/** Name without its prefix. */
const local = (name: string): string => name.slice(name.indexOf(':') + 1)
/** Attributes by their names without prefixes. */
type Attributes = Record<string, string>

async function sheetsOf(zip: OpenZip): Promise<{ sheets: ZipMember[]; from1904: boolean }> {
  const targets = new Map<string, string>()
  const book = 'xl/workbook.xml'
  await listed(zip.member('xl/_rels/workbook.xml.rels'), (name, { Id, Target }) => {
    if (name === 'Relationship' && Id && Target)
      targets.set(Id, Target.startsWith('/') ? Target.slice(1) : posix.join('xl', Target))
  })
  let from1904 = false
  const sheets: ZipMember[] = []
  await listed(zip.member(book), (name, attributes) => {
    if (name === 'workbookPr') from1904 = ['1', 'true'].includes(attributes['date1904'] ?? '')
    const member = name === 'sheet' && zip.member(targets.get(attributes['r:id'] ?? '') ?? '')
    if (member) sheets.push(member)
  })
  return { sheets, from1904 }
}

async function listed(
  member: ZipMember | undefined,
  tag: (name: string, attributes: Attributes) => void,
): Promise<void> {
  if (!member) return
  const parser = new SaxesParser()
  parser.on('opentag', ({ name, attributes }) => tag(local(name), attributes as Attributes))
  if (member.bytes > MOST_OF_LIST) throw new Error('too long')
  await parseAll(member, parser)
}

async function sharedTexts(zip: OpenZip, code: Refused): Promise<string[]> {
  const member = zip.member('xl/sharedStrings.xml')
  const texts: string[] = []
  if (!member) return texts
  const parser = new SaxesParser()
  let [text, inText, inPhonetic, total] = ['', false, false, 0]
  parser.on('opentag', ({ name }) => {
    const own = local(name)
    if (own === 'si') text = ''
    if (own === 'rPh') inPhonetic = true
    inText = own === 't' && !inPhonetic
  })
  parser.on('text', (part) => {
    if (!inText) return
    text += part
    total += part.length
    if (total > MOST_SHARED) throw refused(code, 'The workbook holds more text than a log or a table has.', 'file')
  })
  parser.on('closetag', ({ name }) => {
    const own = local(name)
    if (own === 't') inText = false
    if (own === 'rPh') inPhonetic = false
    if (own === 'si') texts.push(text)
  })
  await parseAll(member, parser)
  return texts
}

/** Places of the styles that show a number as a date or a time. */
async function dateStyles(zip: OpenZip): Promise<Set<number>> {
  const own = new Map<number, string>()
  const styles: number[] = []
  let inStyles = false
  await listed(zip.member('xl/styles.xml'), (name, { numFmtId, formatCode }) => {
    if (name === 'cellXfs') inStyles = true
    else if (name === 'cellStyles' || name === 'dxfs') inStyles = false
    else if (name === 'numFmt') own.set(Number(numFmtId), formatCode ?? '')
    else if (name === 'xf' && inStyles) styles.push(Number(numFmtId ?? 0))
  })
  const isDate = (format: number): boolean =>
    DATE_FORMATS.has(format) || /[ymdhs]/i.test((own.get(format) ?? '').replace(/"[^"]*"|\\.|\[[^\]hms]*\]/gi, ''))
  return new Set(styles.flatMap((format, k) => (isDate(format) ? [k] : [])))
}

async function* rowsOfSheet(
  member: ZipMember,
  limits: WorkbookLimits,
  code: Refused,
  { shared, dates, dateText }: Told,
): AsyncGenerator<Cell[][]> {
  const parser = new SaxesParser()
  let batch: Cell[][] = []
  let row: Cell[] = []
  let [rows, cells, column] = [0, 0, 0]
  let [kind, style, text, inValue] = ['', -1, '', false]
  const tooLarge = (): Refusal =>
    refused(
      code,
      `The sheet reaches to row ${rows}, with ${cells} cells: ${limits.rows} rows and ${limits.cells} cells are read at the most. Take away what lies far out, or send it in parts.`,
      'file',
    )
  const count = (more: number): void => {
    cells += more
    if (rows > limits.rows || cells > limits.cells) throw tooLarge()
  }
  const valueOf = (): Cell => {
    if (text === '' && kind !== 'str' && kind !== 'inlineStr') return null
    if (kind === 's') return shared[Number(text)] ?? ''
    if (kind === 'b') return text === '1' ? 'true' : 'false'
    if (kind === 'e') return null
    if (kind !== '' && kind !== 'n') return text
    const value = Number(text)
    if (Number.isNaN(value)) return text
    return dates.has(style) ? dateText(value) : value
  }
  parser.on('opentag', ({ name, attributes }) => {
    const given = attributes as Attributes
    const own = local(name)
    if (own === 'row') {
      const at = Number(given['r'] ?? rows + 1)
      // Rows that are not written are empty.
      for (const until = Number.isInteger(at) ? at - 1 : rows; rows < until;) {
        rows++
        count(1)
        batch.push([])
      }
      rows++
      count(0)
      ;[row, column] = [[], 0]
    } else if (own === 'c') {
      column = columnOf(given['r']) ?? column + 1
      if (column > MOST_COLUMNS) throw tooLarge()
      ;[kind, text] = [given['t'] ?? '', '']
      style = given['s'] === undefined ? -1 : Number(given['s'])
    } else inValue = own === 'v' || (own === 't' && kind === 'inlineStr')
  })
  parser.on('text', (part) => void (inValue && (text += part)))
  parser.on('closetag', ({ name }) => {
    const own = local(name)
    if (own === 'v' || own === 't') inValue = false
    else if (own === 'c') {
      if (column > row.length) count(column - row.length)
      // Cells between are left open: a far one costs no more than a near one.
      row[column - 1] = valueOf()
    } else if (own === 'row') batch.push(row)
  })
  for await (const _ of parsed(member, parser)) {
    // A piece of a sheet may hold thousands of rows, each as wide as it likes.
    for (let at = 0; at < batch.length; at += BATCH) yield batch.slice(at, at + BATCH)
    batch = []
  }
  if (batch.length) yield batch
}

/** Place of a column by the letters of a cell, from 1; undefined where the cell does not say. */
function columnOf(cell: string | undefined): number | undefined {
  const letters = cell === undefined ? null : /^[A-Z]{1,3}/.exec(cell)
  return letters ? [...letters[0]].reduce((sum, letter) => 26 * sum + letter.charCodeAt(0) - 64, 0) : undefined
}

function range(from: number, to: number): number[] {
  return Array.from({ length: to - from + 1 }, (_, k) => from + k)
}
