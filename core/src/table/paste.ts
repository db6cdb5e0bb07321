import { Refusal } from '../refusal/refusal'
import { readNumber } from '../numbers/typed'
import { ordered, type Selection } from './edits'
import { isBaseFuel } from './kinds'
import type { Grid, Matrix, TableKind } from './table'

/** Cells out of a spreadsheet, put where they belong. */
export interface Pasted {
  values: Matrix
  /** cells that were pasted */
  count: number
  /** what was understood, and what was left out, in whole sentences */
  notes: string[]
}

/**
 * Takes a block of tab-separated cells, highest load first, into a table: one value fills the selection, a block hangs from
 * its top left cell. A line of rpm and a column of load about the block are not pasted; where they are the table's own
 * breakpoints, the block goes where they say, and a column of load that rises downwards turns it over. Nothing is dropped in
 * silence.
 *
 * @param text as a spreadsheet copies it
 * @param smallestFirst the first line is the smallest load, as some write tables
 * @throws Refusal 'no-cells' with row and column (from 1, as pasted) on a cell that is no number or a ragged row
 */
export function pasteCells(
  grid: Grid,
  values: Matrix,
  selection: Selection,
  text: string,
  smallestFirst = false,
): Pasted {
  const all = linesOf(text)
  const heads = headsOf(all)
  const block = all
    .slice(heads.rpm ? 1 : 0)
    .map((line) => (heads.load ? line.slice(1) : line))
    .map((line, row) =>
      line.map((cell, column) => numberOf(cell, row + (heads.rpm ? 2 : 1), column + (heads.load ? 2 : 1))),
    )
  const { row0, row1, column0, column1 } = ordered(selection)
  const [first] = block[0] ?? []
  if (first === undefined)
    throw new Refusal('no-cells', 'There is nothing to paste.', [
      { message: 'There is nothing to paste.', line: 1, column: 1 },
    ])
  if (block.length === 1 && block[0]!.length === 1 && !heads.rpm && !heads.load) {
    const filled = values.map((cells, row) =>
      cells.map((cell, column) =>
        row >= row0 && row <= row1 && column >= column0 && column <= column1 ? first : cell,
      ),
    )
    const count = (row1 - row0 + 1) * (column1 - column0 + 1)
    return {
      values: filled,
      count,
      notes: [count > 1 ? `${first} fills the ${count} cells selected.` : `${first} is pasted.`],
    }
  }
  const own = ownPlaces(grid, heads)
  const isTurned = !own && (smallestFirst || risesDown(heads))
  const rows = block.map((_, k) => (own ? own.rows[k]! : isTurned ? row1 - (block.length - 1 - k) : row1 - k))
  const columns = block[0]!.map((_, k) => (own ? own.columns[k]! : column0 + k))
  const next = values.map((cells) => [...cells])
  let count = 0
  block.forEach((line, r) =>
    line.forEach((value, c) => {
      if (next[rows[r]!]?.[columns[c]!] === undefined) return
      next[rows[r]!]![columns[c]!] = value
      count++
    }),
  )
  const over = block.length * block[0]!.length - count
  return {
    values: next,
    count,
    notes: [
      `${count} cells are pasted, ${block.length} rows by ${block[0]!.length}.`,
      ...(own
        ? ['They stand at the rpm and load of their heads.']
        : heads.rpm || heads.load
          ? [
              `The ${[heads.rpm && 'first line', heads.load && 'first column'].filter(Boolean).join(' and the ')} was taken for breakpoints and left out; ${heads.isText ? 'it is no number' : 'they are not those of this table'}.`,
            ]
          : []),
      ...(isTurned ? ['The first line was taken for the smallest load.'] : []),
      ...(over > 0 ? [`${over} ran over the edge of the table and were left out.`] : []),
    ],
  }
}

const risesDown = ({ load }: Heads): boolean =>
  load !== null && load.length > 1 && load.every((one, k) => k === 0 || one > load[k - 1]!)

/** How much nearer a block must lie to what is there when turned over, as a share of its distance as it is. */
const NEARER = 0.5
/** By how much the first line must be below the last where nothing is there yet, as a share of the last. */
const BELOW = 0.15

/**
 * Whether a block without a column of load looks as if its first line were the smallest load: turned over it lies much nearer to
 * what the table holds, or, of a fuel base table that holds nothing yet, its fuel falls where it should rise.
 *
 * @returns null where it has heads that say, or is not as high as the table
 */
export function looksTurned(kind: TableKind, values: Matrix, text: string): boolean | null {
  const lines = linesOf(text)
  const heads = headsOf(lines)
  if (heads.load) return null
  const block = lines.slice(heads.rpm ? 1 : 0).map((line) => line.map(readNumber))
  if (block.length < 2 || block.length !== values.length || block[0]!.length !== values[0]!.length) return null
  const isKnown = values.flat().every(Number.isFinite)
  const isEven = values.flat().every((one) => one === values[0]![0])
  if (!isKnown || isEven) {
    const mean = (line: readonly number[]): number => line.reduce((sum, one) => sum + one, 0) / line.length
    return isBaseFuel(kind) && mean(block[0]!) < (1 - BELOW) * mean(block.at(-1)!)
  }
  // Highest load first, as it is pasted.
  const there = [...values].reverse()
  const apart = (other: readonly (readonly number[])[]): number =>
    Math.sqrt(other.flat().reduce((sum, one, k) => sum + (one - there.flat()[k]!) ** 2, 0))
  return apart([...block].reverse()) < NEARER * apart(block)
}

function linesOf(text: string): string[][] {
  const lines = text
    .replace(/\r\n?/g, '\n')
    .replace(/\n+$/, '')
    .split('\n')
    .map((line) => line.split('\t').map((cell) => cell.trim()))
  const ragged = lines.findIndex((line) => line.length !== lines[0]!.length)
  if (ragged >= 0)
    throw new Refusal('no-cells', `Row ${ragged + 1} has another number of cells than the first.`, [
      { message: `Row ${ragged + 1} has another number of cells than the first.`, line: ragged + 1, column: 1 },
    ])
  return lines
}

function numberOf(cell: string, row: number, column: number): number {
  const value = readNumber(cell)
  if (Number.isNaN(value))
    throw new Refusal('no-cells', `"${cell.slice(0, 24)}" is not a number (row ${row}, column ${column}).`, [
      { message: `"${cell.slice(0, 24)}" is not a number (row ${row}, column ${column}).`, line: row, column: column },
    ])
  return value
}

interface Heads {
  /** rpm of the columns, and load of the rows; null where there are no such heads */
  rpm: number[] | null
  load: number[] | null
  isText: boolean
}

/** Heads about a block: a corner that is no number, or a first line of words. */
function headsOf(lines: string[][]): Heads {
  const [first = []] = lines
  const isNumber = (cell: string): boolean => !Number.isNaN(readNumber(cell))
  const hasCorner = lines.length > 1 && first.length > 1 && !isNumber(first[0]!)
  if (hasCorner && first.slice(1).every(isNumber))
    return {
      rpm: first.slice(1).map(readNumber),
      load: lines.slice(1).map((line) => readNumber(line[0]!)),
      isText: false,
    }
  if (lines.length > 1 && first.length > 0 && first.every((cell) => !isNumber(cell)))
    return { rpm: first.map(() => NaN), load: null, isText: true }
  return { rpm: null, load: null, isText: false }
}

/** Rows and columns that the heads name; null where they are not all breakpoints of the table. */
function ownPlaces(grid: Grid, { rpm, load }: Heads): { rows: number[]; columns: number[] } | null {
  if (!rpm || !load) return null
  const columns = rpm.map((value) => grid.rpm.indexOf(value))
  const rows = load.map((value) => grid.load.indexOf(value))
  return columns.includes(-1) || rows.includes(-1) ? null : { rows, columns }
}
