import type { Workbook } from 'exceljs'
import {
  refused,
  tableFromCsv,
  tableFromJson,
  tableFromRows,
  tableToRows,
  type Table,
  type TableSaid,
} from '@yuzumix/core'

/** Read in when the first workbook is asked for: few ever are. */
async function newWorkbook(): Promise<Workbook> {
  const { default: excel } = await import('exceljs')
  return new excel.Workbook()
}

/** A table as an XLSX workbook of one sheet, laid out as in CSV. */
export async function tableToXlsx(table: Table, name: string): Promise<Buffer> {
  const workbook = await newWorkbook()
  const sheet = workbook.addWorksheet(name.replace(/[\\/?*[\]:]/g, ' ').slice(0, 31) || 'table')
  sheet.addRows(tableToRows(table))
  return Buffer.from(await workbook.xlsx.writeBuffer())
}

async function tableFromXlsx(content: Buffer, said: TableSaid): Promise<Table> {
  const workbook = await newWorkbook()
  try {
    await workbook.xlsx.load(content as never)
  } catch {
    throw refused(
      'no-table',
      'The file is not a workbook that can be read. Save it as XLSX or CSV and try again.',
      'table',
    )
  }
  const sheet = workbook.worksheets[0]
  if (!sheet) throw refused('no-table', 'The workbook has no sheet.', 'table')
  const rows: (string | number | null)[][] = []
  sheet.eachRow({ includeEmpty: true }, (row) => {
    const cells: (string | number | null)[] = []
    for (let k = 1; k <= row.cellCount; k++) {
      const { value, text } = row.getCell(k)
      cells.push(typeof value === 'number' ? value : value === null ? null : text)
    }
    rows.push(cells)
  })
  return tableFromRows(rows, said)
}

/**
 * Reads a table from a CSV, JSON or XLSX file, told apart by content.
 *
 * @param said what the file does not say itself
 * @throws Refusal 'no-table' saying what is wrong, and where
 */
export async function readTableFile(content: Buffer, said: TableSaid = {}): Promise<Table> {
  if (content.length === 0) throw refused('no-table', 'The file is empty.', 'table')
  if (content[0] === 0x50 && content[1] === 0x4b) return tableFromXlsx(content, said)
  if (content.includes(0))
    throw refused('no-table', 'The file is neither text nor a workbook. Give a table as CSV, JSON or XLSX.', 'table')
  const text = new TextDecoder().decode(content)
  return /^\uFEFF?\s*[{[]/.test(text) ? tableFromJson(text) : tableFromCsv(text, said)
}
