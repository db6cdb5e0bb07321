import { logRefused } from './logRefused'
import Papa from 'papaparse'
import { parseClock } from './clockTime'
import { parseNumber, THOUSANDS_APART } from './number'
import { rateOfHead } from './rateOfHead'
import { recogniseColumns, recogniseHeader, type Mapping } from './recognise'

/** How a log is laid out, found from its first lines. */
export interface LogLayout {
  delimiter: string
  decimalComma: boolean
  /** Line of the header, from 1. */
  headerLine: number
  headers: string[]
  /** The row under the header when it holds units, else empty. */
  units: string[]
  /** Line of the first row of numbers, from 1. */
  dataLine: number
  /** The first rows as written. */
  rows: string[][]
  mapping: Mapping
  /** samples per second, where the lines above the header say it */
  headRateHz: number | null
}

const DELIMITERS = [',', ';', '\t', '|']
const HEAD_LINES = 60
/** Characters of a name of a column; what is longer is none. */
const LONGEST_NAME = 200

/**
 * Finds delimiter, decimal sign, header, units row and channels of a log from its first text.
 *
 * @param text the beginning of the file, some 64 kB; a last line that is cut is ignored when there are others
 * @param whole whether the text is the whole file
 * @throws Refusal 'no-log' when there is no header or no row of numbers
 * @example
 * readLayout('time;rpm\n0,00;3000\n0,02;3010\n', true).delimiter // ';'
 */
export function readLayout(text: string, whole: boolean): LogLayout {
  const plain = text.replace(/^\uFEFF/, '')
  const cut = whole ? plain : plain.slice(0, Math.max(plain.lastIndexOf('\n'), plain.lastIndexOf('\r')) + 1) || plain
  if (cut.trim() === '') throw logRefused('The file is empty. Export the log again with at least a header and one row.')
  // Some programs begin with empty lines: they count, and are not looked at.
  const empty = /^(?:[^\S\r\n]*(?:\r\n|\n|\r))*/.exec(cut)![0]
  const before = empty.match(/\r\n|\n|\r/g)?.length ?? 0
  const told = cut.slice(empty.length)
  const delimiter = findDelimiter(told)
  const lines = Papa.parse<string[]>(told, { delimiter, preview: HEAD_LINES * 2 }).data
  const header = findHeader(lines)
  if (header < 0) {
    throw logRefused(
      'No header line was found in the first lines. The first line should name the columns, such as time, rpm, throttle, lambda.',
      [{ message: 'no header', line: 1 }],
    )
  }
  const headers = uniqueHeaders(lines[header]!.map((cell) => cell.trim()))
  const below = lines[header + 1] ?? []
  const decimalComma = usesDecimalComma(lines.slice(header + 1), delimiter)
  const isNumber = (cell: string): boolean =>
    !Number.isNaN(parseNumber(cell, decimalComma)) || !Number.isNaN(parseClock(cell))
  const hasUnits =
    below.some((cell) => cell.trim() !== '') && !below.some(isNumber) && below.length > 1 && looksLikeUnits(below)
  const first = header + (hasUnits ? 2 : 1)
  const rows = lines.slice(first).filter((cells) => cells.some((cell) => cell.trim() !== ''))
  if (rows.length === 0) {
    throw logRefused(
      `The file has a header on line ${before + header + 1} but no rows under it. Export the log again with its data.`,
      [{ message: 'no rows under the header', line: before + header + 1 }],
    )
  }
  const units = hasUnits ? below.map((cell) => cell.trim().replace(/^[([{]|[)\]}]$/g, '')) : []
  return {
    delimiter,
    decimalComma,
    headRateHz: rateOfHead(lines.slice(0, header).map((cells) => cells.join(' '))),
    headerLine: before + header + 1,
    headers,
    units,
    dataLine: before + first + 1,
    rows: rows.slice(0, 12),
    mapping: recogniseColumns(
      headers,
      units,
      rows.map((cells) => cells.map((cell) => cellNumber(cell, decimalComma))),
    ),
  }
}

/** A cell as a number, clock times as seconds; NaN for text. */
function cellNumber(cell: string, decimalComma: boolean): number {
  const value = parseNumber(cell, decimalComma)
  return Number.isNaN(value) ? parseClock(cell) : value
}

/** The delimiter that gives the most columns on the most lines. */
function findDelimiter(text: string): string {
  const sample = text.split(/\r\n|\n|\r/, HEAD_LINES).filter((line) => line.trim() !== '')
  let best = ','
  let bestScore = 0
  for (const delimiter of DELIMITERS) {
    const counts = sample.map((line) => line.replace(/"[^"]*"/g, '').split(delimiter).length - 1)
    const usual = counts.slice().sort((a, b) => a - b)[counts.length >> 1]!
    const agreeing = counts.filter((count) => count === usual && count > 0).length
    // Decimal commas make a comma look like a delimiter: a semicolon that splits every line wins over it.
    const score = usual > 0 ? agreeing * (delimiter === ',' ? 1 : 1.5) + usual * 0.01 : 0
    if (score > bestScore) [best, bestScore] = [delimiter, score]
  }
  return best
}

/** First line that names channels; else the first line of mostly text with a line of mostly numbers soon after. */
function findHeader(lines: readonly string[][]): number {
  // A cell without a letter, as of every row of numbers, names no channel.
  const names = (cell: string): boolean =>
    cell.length <= LONGEST_NAME && /\p{L}/u.test(cell) && recogniseHeader(cell) !== null
  const known = lines.slice(0, HEAD_LINES).map((cells) => cells.filter(names).length)
  const most = Math.max(...known)
  if (most >= 2) return known.indexOf(most)
  return lines.findIndex(
    (cells, index) =>
      cells.length > 1 &&
      cells.every((cell) => Number.isNaN(parseNumber(cell, false))) &&
      cells.filter((cell) => cell.trim() !== '').length > cells.length / 2 &&
      index < HEAD_LINES,
  )
}

/** A units row is made of short words and brackets, such as "s", "[rpm]", "°C"; text in a column of numbers is not. */
function looksLikeUnits(cells: readonly string[]): boolean {
  return (
    cells.every((cell) => cell.trim().length <= 10) &&
    cells.filter((cell) => cell.trim() !== '').length * 2 >= cells.length
  )
}

/** Whether numbers have a decimal comma; commas between thousands are none, as far as the file tells. */
function usesDecimalComma(rows: readonly string[][], delimiter: string): boolean {
  const cells = rows.flat().map((cell) => cell.trim())
  const points = cells.filter((cell) => /^[+-]?\d*\.\d+$/.test(cell)).length
  const commas = cells.filter((cell) => /^[+-]?\d*,\d+$/.test(cell))
  // 85,125 may be either. Beside numbers with a point, or quoted between commas, it has its thousands apart.
  if (commas.every((cell) => THOUSANDS_APART.test(cell))) return commas.length > 0 && points === 0 && delimiter !== ','
  return commas.length > points
}

/** Gives empty and repeated headers a name of their own: "rpm", "rpm (2)". */
export function uniqueHeaders(headers: readonly string[]): string[] {
  const seen = new Map<string, number>()
  return headers.map((header, index) => {
    const name = header === '' ? `column ${index + 1}` : header
    const count = (seen.get(name) ?? 0) + 1
    seen.set(name, count)
    return count === 1 ? name : `${name} (${count})`
  })
}
