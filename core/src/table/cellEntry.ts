import { readNumber } from '../numbers/typed'
import { isBaseFuel } from './kinds'
import type { TableKind } from './table'

/** What was typed over cells, understood. */
export interface CellEntry {
  /** `percent` is of fuel, `add` in points or degrees */
  act: 'set' | 'percent' | 'add' | 'multiply' | 'divide'
  value: number
}

const OPERATORS: Record<string, CellEntry['act']> = { '=': 'set', '*': 'multiply', '×': 'multiply', '/': 'divide' }

/**
 * Reads what is typed over cells of a table. A signed number changes: on a fuel base table by percent of fuel, on trims and
 * degrees by points. `*1.1` and `/1.1` multiply and divide, a plain number or `=22` sets. A decimal comma is a point.
 *
 * @returns the entry, or in words why it is none
 * @example
 * // Times 1.22.
 * readEntry('+22', 'fuel base') // { act: 'percent', value: 22 }
 * readEntry('+22', 'fuel trim') // { act: 'add', value: 22 }
 */
export function readEntry(text: string, kind: TableKind): CellEntry | { fault: string } {
  const plain = text.trim().replace(/\u2212/g, '-')
  const first = plain[0] ?? ''
  const operator = OPERATORS[first]
  if (operator) return entryOf(operator, plain.slice(1), `after "${first}"`, operator === 'set')
  if (first === '+' || first === '-') {
    const isBase = isBaseFuel(kind)
    const read = entryOf(isBase ? 'percent' : 'add', plain.slice(1), `after "${first}"`, false)
    return 'fault' in read || first === '+' ? checked(read) : checked({ ...read, value: -read.value })
  }
  if (isBaseFuel(kind) && plain.endsWith('%'))
    return { fault: `Say +${plain} for more fuel, or a number without % to set the cell.` }
  return entryOf('set', plain, '', false)
}

/** The number of an entry; only `=` may be followed by a sign. */
function entryOf(act: CellEntry['act'], text: string, where: string, signed: boolean): CellEntry | { fault: string } {
  const number = text.trim()
  if (number === '') return { fault: `A number is missing${where && ` ${where}`}.` }
  if (!signed && /^[+-]/.test(number)) return { fault: 'Two signs: one is too many.' }
  if (/^[*×/=]/.test(number)) return { fault: 'One sign of what to do is enough.' }
  const value = readNumber(number)
  if (Number.isNaN(value)) return { fault: `"${number.slice(0, 24)}" is not a number.` }
  return checked({ act, value })
}

function checked(entry: CellEntry | { fault: string }): CellEntry | { fault: string } {
  if ('fault' in entry) return entry
  const { act, value } = entry
  if (act === 'divide' && value === 0) return { fault: 'Nothing can be divided by 0.' }
  if (act === 'percent' && value <= -100)
    return { fault: 'That would take away all the fuel. Set the cell to 0 if it must be.' }
  return entry
}

/**
 * A cell's value once an entry is taken.
 *
 * @param cell its value before, in the table's unit
 */
export function takeEntry({ act, value }: CellEntry, cell: number): number {
  switch (act) {
    case 'set':
      return value
    case 'percent':
      return cell * (1 + value / 100)
    case 'add':
      return cell + value
    case 'multiply':
      return cell * value
    case 'divide':
      return cell / value
  }
}
