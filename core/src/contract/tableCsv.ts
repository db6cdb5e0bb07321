import { Refusal, refused } from '../refusal/refusal'
import { csvText } from '../numbers/csvText'
import Papa from 'papaparse'
import { readNumber } from '../numbers/typed'
import { checkTable, type TableSaid } from './tableJson'
import { grouped } from '../numbers/format'
import { MAX_BREAKPOINTS, TABLE_KINDS, type Table } from '../table/table'

/**
 * A table as rows of cells, the way people read it: a line of facts, then rpm across and load up the side, highest load
 * first. CSV and spreadsheets share this layout.
 */
export function tableToRows(table: Table): (string | number)[][] {
  return [
    [
      'kind',
      table.kind,
      'composition',
      table.composition,
      'load axis',
      table.loadAxis,
      ...(table.global ? ['global', withoutNoise(table.global)] : []),
    ],
    ['load \\ rpm', ...table.rpm],
    ...table.load.map((load, row) => [load, ...table.values[row]!.map(withoutNoise)]).reverse(),
  ]
}

/** Figures that a cell is written with: more are noise of binary sums, as in 11.000000000000002. */
const FIGURES = 10
const withoutNoise = (value: number): number => Number(value.toPrecision(FIGURES))

/** Lines and columns of a sheet that a table is looked for in. */
const MOST_LINES = 4 * MAX_BREAKPOINTS

/** rpm of an engine that turns: a line of breakpoints that ends below is no line of rpm. */
const TURNS = 500

/**
 * Reads that layout, or the same without its line of facts, as spreadsheets are kept: rpm along either side, load in any order.
 *
 * @param said what the file does not say itself
 * @throws Refusal 'no-table' with line and column; with field `kind` where nothing says what kind of table it is
 */
export function tableFromRows(
  rows: readonly (readonly (string | number | null | undefined)[])[],
  said: TableSaid = {},
): Table {
  const sheet = rows.map((row) => row.map((cell) => (cell === null || cell === undefined ? '' : String(cell))))
  while (sheet.length && sheet.at(-1)!.every((cell) => cell.trim() === '')) sheet.pop()
  const facts = new Map<string, string>()
  const first = sheet[0] ?? []
  if (first[0]?.trim().toLowerCase() === 'kind')
    for (let k = 0; k + 1 < first.length; k += 2) facts.set(first[k]!.trim().toLowerCase(), first[k + 1]!.trim())
  const kind = facts.get('kind') ?? said.kind
  // A line or two may lie around the table.
  const cells = sheet.reduce((sum, row) => sum + row.length, 0)
  if (sheet.length > MOST_LINES || cells > MOST_LINES ** 2)
    throw refused(
      'no-table',
      `The file has ${grouped(sheet.length)} lines with ${grouped(cells)} cells: a table has ${MAX_BREAKPOINTS} breakpoints a side at the most. Send the table alone.`,
      'table',
    )
  if (!kind)
    throw new Refusal(
      'no-table',
      `Nothing in the file says what kind of table it is: say one of ${TABLE_KINDS.join(', ')}, here or in a first line such as "kind,fuel trim".`,
      [{ field: 'kind', message: 'missing', line: 1, column: 1 }],
    )
  const text = facts.size ? sheet.slice(1) : rpmAcross(sheet)
  /** lines before the one of rpm, as the file counts */
  const before = facts.size ? 1 : 0
  const axis = trimmed(text[0] ?? [])
  const rpm = axis.slice(1).map((cell, k) => toNumber(cell, before + 1, k + 2, 'rpm'))
  const body = text.slice(1).map((row, r) => {
    const line = before + r + 2
    const cells = trimmed(row)
    if (cells.length !== axis.length) {
      throw new Refusal('no-table', `Line ${line} has ${cells.length} cells, but the rpm line has ${axis.length}.`, [
        { field: 'values', message: 'ragged row', line },
      ])
    }
    return cells.map((cell, k) => toNumber(cell, line, k + 1, k === 0 ? 'load' : 'values'))
  })
  body.sort((a, b) => a[0]! - b[0]!)
  return checkTable({
    kind,
    composition: facts.get('composition') || said.composition || 'multiply',
    loadAxis: facts.get('load axis') || said.loadAxis || 'throttle',
    ...(facts.has('global') && { global: toNumber(facts.get('global')!, 1, 8, 'global') }),
    rpm,
    load: body.map((row) => row[0]!),
    values: body.map((row) => row.slice(1)),
  })
}

/**
 * A table as CSV, with its facts over it. `tableFromCsv` reads it back to the same table.
 */
export function tableToCsv(table: Table): string {
  return csvText(tableToRows(table))
}

/**
 * @throws Refusal 'no-table' with line and column
 *
 * @example
 * const table = tableFromCsv('kind,fuel base\\n...')
 */
export function tableFromCsv(text: string, said: TableSaid = {}): Table {
  return tableFromRows(
    Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy', preview: MOST_LINES + 1 }).data,
    said,
  )
}

/** Turns a sheet whose first column is rpm, and whose first line is not, so that rpm runs across. */
function rpmAcross(rows: string[][]): string[][] {
  const most = (cells: readonly (string | undefined)[]): number =>
    cells.reduce((highest, cell) => {
      const value = readNumber(cell ?? '')
      return value > highest ? value : highest
    }, -Infinity)
  const across = most((rows[0] ?? []).slice(1))
  const down = most(rows.slice(1).map((row) => row[0]))
  if (across >= TURNS || down < TURNS) return rows
  const widest = rows.reduce((most, row) => Math.max(most, trimmed(row).length), 0)
  return Array.from({ length: widest }, (_, k) => rows.map((row) => row[k] ?? ''))
}

function trimmed(row: readonly string[]): string[] {
  const cells = [...row]
  while (cells.length && cells.at(-1)!.trim() === '') cells.pop()
  return cells
}

function toNumber(cell: string, line: number, column: number, field: string): number {
  const value = readNumber(cell)
  if (Number.isNaN(value))
    throw new Refusal('no-table', `"${cell.slice(0, 24)}" is not a number (line ${line}, column ${column}).`, [
      { field, message: 'not a number', line, column },
    ])
  return value
}
