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
