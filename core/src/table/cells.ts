import type { Matrix } from './table'

/** What was wrong with pasted cells, and where. */
export class CellsError extends Error {
  constructor(
    message: string,
    readonly row: number,
    readonly column: number,
  ) {
    super(message)
    this.name = 'CellsError'
  }
}

/** Reads a number as spreadsheets write it: true minus, decimal comma, percent and spaces allowed. NaN when it is none. */
export function parseCell(text: string): number {
  const plain = text
    .trim()
    .replace(/\u2212/g, '-')
    .replace(/[\s\u00a0\u202f%]/g, '')
    .replace(/^([+-]?\d*),(\d+)$/, '$1.$2')
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(plain) ? Number(plain) : NaN
}

/** Tab-separated cells for any spreadsheet, highest load first, as the table is seen. */
export function cellsToText(values: Matrix, digits = 4): string {
  return [...values]
    .reverse()
    .map((cells) => cells.map((value) => String(Number(value.toFixed(digits)))).join('\t'))
    .join('\n')
}

/**
 * Reads tab-separated cells as a spreadsheet copies them, highest load first.
 *
 * @throws CellsError with row and column (from 1, as pasted) on a cell that is no number or a ragged row
 */
export function cellsFromText(text: string): Matrix {
  const lines = text.replace(/\r\n?/g, '\n').replace(/\n+$/, '').split('\n')
  const rows = lines.map((line, row) =>
    line.split('\t').map((cell, column) => {
      const value = parseCell(cell)
      if (Number.isNaN(value)) {
        throw new CellsError(
          `"${cell.slice(0, 24)}" is not a number (row ${row + 1}, column ${column + 1}).`,
          row + 1,
          column + 1,
        )
      }
      return value
    }),
  )
  const ragged = rows.findIndex((cells) => cells.length !== rows[0]!.length)
  if (ragged >= 0) throw new CellsError(`Row ${ragged + 1} has another number of cells than the first.`, ragged + 1, 1)
  return rows.reverse()
}
