import { kindOfTable, setsPlate, type TableKind } from './kinds'

/** Numbers on a grid, `[load][rpm]`, load rising. */
export type Matrix = number[][]
/** As Matrix, with null where nothing is known. */
export type SparseMatrix = (number | null)[][]

/** What the rows of a table stand for: throttle in % of plate opening, or manifold pressure in kPa absolute. */
export type LoadAxis = 'throttle' | 'manifold'
/** The unit of each. */
export const LOAD_UNITS: Readonly<Record<LoadAxis, string>> = { throttle: '%', manifold: 'kPa' }

export { TABLE_KINDS, type TableKind } from './kinds'

/** How a percent trim acts: it multiplies the fuel, or is added to a global trim before acting. */
export const COMPOSITIONS = ['multiply', 'add'] as const
type Composition = (typeof COMPOSITIONS)[number]

/** Breakpoints of a table, both strictly rising. */
export interface Grid {
  rpm: number[]
  load: number[]
}

/** A grid with what its load stands for. */
export interface LoadGrid extends Grid {
  loadAxis: LoadAxis
}

/** Numbers on rpm x load breakpoints; `values` is `[load][rpm]`. */
export interface Table extends LoadGrid {
  kind: TableKind
  composition: Composition
  /** percent that a module adds to every cell of a trim that adds; absent for none */
  global?: number
  values: Matrix
}

/** Largest table taken: 64 breakpoints a side, more than any controller seen. */
export const MAX_BREAKPOINTS = 64

/** Whether two grids have the same breakpoints. */
export function sameGrid(a: Grid, b: Grid): boolean {
  const same = (x: readonly number[], y: readonly number[]): boolean =>
    x.length === y.length && x.every((value, i) => value === y[i])
  return same(a.rpm, b.rpm) && same(a.load, b.load)
}

/**
 * A matrix `[load][rpm]` of a grid's shape with one value everywhere.
 *
 * @example
 * filled({ rpm: [1000, 2000], load: [50] }, 0) // [[0, 0]]
 */
export function filled<T>(grid: Grid, value: T): T[][] {
  return grid.load.map(() => grid.rpm.map(() => value))
}

/** A matrix of that grid's shape, each value made from its row and column. */
export function build<T>(grid: Grid, value: (row: number, column: number) => T): T[][] {
  return grid.load.map((_, row) => grid.rpm.map((__, column) => value(row, column)))
}

/**
 * Why these breakpoints cannot be used, in words, or null when they can.
 *
 * @example
 * breakpointFault('rpm', [1000, 2000]) // null
 */
export function breakpointFault(axis: 'rpm' | 'load', points: readonly number[]): string | null {
  if (points.length < 2) return `needs at least two breakpoints.`
  if (points.length > MAX_BREAKPOINTS) return `has ${points.length} breakpoints; at most ${MAX_BREAKPOINTS} fit.`
  const most = axis === 'rpm' ? 30000 : 400
  for (let i = 0; i < points.length; i++) {
    const value = points[i]!
    if (!Number.isFinite(value) || value < 0 || value > most) {
      return `breakpoint ${i + 1} must be a number from 0 to ${most}.`
    }
    if (i > 0 && !(value > points[i - 1]!)) return `breakpoint ${i + 1} must be above the one before it.`
  }
  return null
}

/** Why this matrix does not fit that grid, in words, or null when it does. */
export function shapeFault(grid: Grid, values: readonly (readonly unknown[])[]): string | null {
  if (values.length !== grid.load.length) return `${values.length} rows, but ${grid.load.length} load breakpoints.`
  const row = values.findIndex((cells) => cells.length !== grid.rpm.length)
  if (row >= 0)
    return `row ${row + 1} has ${values[row]!.length} cells, but there are ${grid.rpm.length} rpm breakpoints.`
  return null
}

/** Why a table of that kind cannot hold these values, in words, or null when it can. */
export function rangeFault(kind: TableKind, values: Matrix): string | null {
  const { least, most } = valueLimits(kind)
  if (values.some((cells) => cells.some((value) => !(value >= least && value <= most))))
    return `A cell is outside ${least} to ${most}.`
  const falls = setsPlate({ kind }) ? fallingCell(values) : null
  return falls
    ? `A plate must not shut as the hand opens: row ${falls.row + 1} falls at column ${falls.column + 1}.`
    : null
}

/** First cell of a plate table that lies below the one before it in grip; null when it rises all the way. */
export function fallingCell(values: Matrix): { row: number; column: number } | null {
  for (let row = 1; row < values.length; row++)
    for (let column = 0; column < values[row]!.length; column++)
      if (values[row]![column]! < values[row - 1]![column]!) return { row, column }
  return null
}

/** Limits of a cell's value by kind of table, in the table's own unit. */
export function valueLimits(kind: TableKind): { least: number; most: number; unit: string } {
  const { least, most, unit } = kindOfTable(kind)
  return { least, most, unit }
}
