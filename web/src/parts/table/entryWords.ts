import { readEntry, takeEntry, valueLimits, type CellEntry, type TableKind } from '@yuzumix/core'
import { grouped, plain, signed } from '@/parts/numbers/format'

/** What a typed text will do to some cells: in words, and the new value of each; a fault says why nothing. */
export type EntryPreview =
  | { fault: string; words: string }
  | { fault: null; words: string; entry: CellEntry; take: (cell: number) => number }

const digitsOf = (value: number): number => Math.min(6, (String(value).split('.')[1] ?? '').length)

function actWords({ act, value }: CellEntry, unit: string): string {
  const points = unit === '%' ? ' points' : unit ? ` ${unit}` : ''
  switch (act) {
    case 'set':
      return `sets ${plain(value, digitsOf(value))}${unit && ` ${unit}`}`
    case 'percent':
      return `${signed(value, digitsOf(value))} % of fuel`
    case 'add':
      return `${signed(value, digitsOf(value))}${points}`
    case 'multiply':
      return `times ${plain(value, digitsOf(value))}`
    case 'divide':
      return `divided by ${plain(value, digitsOf(value))}`
  }
}

/**
 * What Enter will do with a text typed over cells.
 *
 * @param cells values of the cells selected; the first is told with its new value
 * @param cellText how the table shows a value
 */
export function previewEntry(
  text: string,
  kind: TableKind,
  cells: readonly number[],
  cellText: (value: number) => string,
): EntryPreview {
  const entry = readEntry(text, kind)
  if ('fault' in entry) return { fault: entry.fault, words: `${entry.fault} Enter changes nothing.` }
  const { least, most, unit } = valueLimits(kind)
  const after = cells.map((cell) => takeEntry(entry, cell))
  const outside = after.find((value) => !(value >= least && value <= most))
  if (outside !== undefined) {
    const range = `${grouped(least)} to ${grouped(most)}${unit && ` ${unit}`}`
    const fault = `A cell would be ${plain(outside, Math.abs(outside) < 1e6 ? 1 : 0)}; a ${kind} table takes ${range}.`
    return { fault, words: `${fault} Enter changes nothing.` }
  }
  const change = `${cellText(cells[0]!)} → ${cellText(after[0]!)}`
  const count = cells.length > 1 ? ` in ${cells.length} cells, the first` : ''
  return {
    fault: null,
    words: `Enter: ${actWords(entry, unit)}${count} ${change}`,
    entry,
    take: (cell) => takeEntry(entry, cell),
  }
}
