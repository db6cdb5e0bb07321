import type { Matrix } from './table'

/**
 * Tab-separated cells for any spreadsheet, highest load first, as the table is seen.
 *
 * @param values `[load][rpm]`
 * @param digits behind the point, at most
 * @example
 * cellsToText([[1, 2], [3, 4]]) // '3\t4\n1\t2'
 */
export function cellsToText(values: Matrix, digits = 4): string {
  return [...values]
    .reverse()
    .map((cells) => cells.map((value) => String(Number(value.toFixed(digits)))).join('\t'))
    .join('\n')
}
