import Papa from 'papaparse'
import { readNumber } from '../numbers/typed'
import { checkTable, TableError } from './json'
import type { Table } from './table'

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

/**
 * Reads that layout.
 *
 * @throws TableError with line and column
 */
export function tableFromRows(rows: readonly (readonly (string | number | null | undefined)[])[]): Table {
  const text = rows.map((row) => row.map((cell) => (cell === null || cell === undefined ? '' : String(cell))))
  while (text.length && text.at(-1)!.every((cell) => cell.trim() === '')) text.pop()
  const facts = new Map<string, string>()
  const first = text[0] ?? []
  for (let k = 0; k + 1 < first.length; k += 2) facts.set(first[k]!.trim().toLowerCase(), first[k + 1]!.trim())
  if (!facts.has('kind'))
    throw new TableError('The first line must say the kind of table, such as "kind,fuel trim".', [
      { field: 'kind', message: 'missing', line: 1, column: 1 },
    ])
  const axis = trimmed(text[1] ?? [])
  const rpm = axis.slice(1).map((cell, k) => toNumber(cell, 2, k + 2, 'rpm'))
  const body = text.slice(2).map((row, r) => {
    const cells = trimmed(row)
    if (cells.length !== axis.length) {
      throw new TableError(`Line ${r + 3} has ${cells.length} cells, but the rpm line has ${axis.length}.`, [
        { field: 'values', message: 'ragged row', line: r + 3 },
      ])
    }
    return cells.map((cell, k) => toNumber(cell, r + 3, k + 1, k === 0 ? 'load' : 'values'))
  })
  body.sort((a, b) => a[0]! - b[0]!)
  return checkTable({
    kind: facts.get('kind'),
    composition: facts.get('composition') || 'multiply',
    loadAxis: facts.get('load axis') || 'throttle',
    ...(facts.has('global') && { global: toNumber(facts.get('global')!, 1, 8, 'global') }),
    rpm,
    load: body.map((row) => row[0]!),
    values: body.map((row) => row.slice(1)),
  })
}

export function tableToCsv(table: Table): string {
  return `${Papa.unparse(tableToRows(table), { newline: '\n' })}\n`
}

/**
 * @throws TableError with line and column
 *
 * @example
 * const table = tableFromCsv('kind,fuel base\\n...')
 */
export function tableFromCsv(text: string): Table {
  return tableFromRows(Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy' }).data)
}

function trimmed(row: readonly string[]): string[] {
  const cells = [...row]
  while (cells.length && cells.at(-1)!.trim() === '') cells.pop()
  return cells
}

function toNumber(cell: string, line: number, column: number, field: string): number {
  const value = readNumber(cell)
  if (Number.isNaN(value))
    throw new TableError(`"${cell.slice(0, 24)}" is not a number (line ${line}, column ${column}).`, [
      { field, message: 'not a number', line, column },
    ])
  return value
}
