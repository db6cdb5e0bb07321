import Papa from 'papaparse'

/** Signs with which a cell of text is taken for a formula by programs that open it (CWE-1236). */
const FORMULA = /^[=+\-@\t\r]/

/**
 * Rows as CSV that any program may open: a text that would be taken for a formula has an apostrophe before it; numbers are left as
 * they are.
 *
 * @example
 * csvText([['name', '=1+1'], ['a', -3]]) // 'name,"\'=1+1"\na,-3\n'
 */
export function csvText(rows: readonly (readonly (string | number)[])[]): string {
  return `${Papa.unparse(rows as (string | number)[][], { newline: '\n', escapeFormulae: FORMULA })}\n`
}

/**
 * A cell as it was before `csvText` wrote it.
 *
 * @example
 * plainCell("'=1+1") // '=1+1'
 */
export const plainCell = (cell: string): string =>
  cell.startsWith("'") && FORMULA.test(cell.slice(1)) ? cell.slice(1) : cell
