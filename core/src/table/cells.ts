import type { Matrix } from './table'

/** Tab-separated cells for any spreadsheet, highest load first, as the table is seen. */
export function cellsToText(values: Matrix, digits = 4): string {
  return [...values]
    .reverse()
    .map((cells) => cells.map((value) => String(Number(value.toFixed(digits)))).join('\t'))
    .join('\n')
}
