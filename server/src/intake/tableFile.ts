import { readFile } from 'node:fs/promises'
import writeExcel from 'write-excel-file/node'
import {
  refused,
  tableFromCsv,
  tableFromJson,
  tableFromRows,
  tableToRows,
  type Table,
  type TableSaid,
} from '@yuzumix/core'
import { rowsOfWorkbook, type Cell } from './workbook'

/** What a workbook with a table may hold. */
const MOST_OF_SHEET = { rows: 1000, cells: 100_000, bytes: 64 * 1024 ** 2 }

/** A table as an XLSX workbook of one sheet, laid out as in CSV. */
export function tableToXlsx(table: Table, name: string): Promise<Buffer> {
  const sheet = name.replace(/[\\/?*[\]:]/g, ' ').slice(0, 31) || 'table'
  const rows = tableToRows(table).map((row) => row.map((value) => ({ value })))
  return writeExcel(rows, { sheet }).toBuffer()
}

async function tableFromXlsx(path: string, said: TableSaid): Promise<Table> {
  const rows: Cell[][] = []
  for await (const some of rowsOfWorkbook(path, MOST_OF_SHEET, 'no-table')) rows.push(...some)
  if (rows.length === 0) throw refused('no-table', 'The workbook has no sheet with rows.', 'table')
  return tableFromRows(rows, said)
}

/**
 * Reads a table from a CSV, JSON or XLSX file, told apart by content.
 *
 * @param said what the file does not say itself
 * @throws Refusal 'no-table' saying what is wrong, and where
 */
export async function readTableFile(path: string, said: TableSaid = {}): Promise<Table> {
  const content = await readFile(path)
  if (content.length === 0) throw refused('no-table', 'The file is empty.', 'table')
  if (content[0] === 0x50 && content[1] === 0x4b) return tableFromXlsx(path, said)
  if (content.includes(0))
    throw refused('no-table', 'The file is neither text nor a workbook. Give a table as CSV, JSON or XLSX.', 'table')
  const text = new TextDecoder().decode(content)
  return /^\uFEFF?\s*[{[]/.test(text) ? tableFromJson(text) : tableFromCsv(text, said)
}
