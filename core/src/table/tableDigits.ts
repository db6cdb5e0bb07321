import { kindOfTable } from './kinds'
import type { Table } from './table'

/** Change of a fuel cell that is to be seen, %. */
export const SEEN = 0.3
/** Share of the fuel cells that may be smaller than the one the decimals are chosen for: those near shut throttle. */
const SMALL = 0.25

/**
 * Decimals at which all cells of a table are shown: a step finer than a change that is to be seen. A fuel base table counts
 * in any unit, so its decimals follow from its smaller cells.
 */
export function tableDigits({ kind, values }: Pick<Table, 'kind' | 'values'>): number {
  const { digits } = kindOfTable(kind)
  if (digits !== null) return digits
  const cells = values
    .flat()
    .filter((value) => value > 0)
    .sort((a, b) => a - b)
  const small = cells[Math.floor(SMALL * cells.length)]
  if (small === undefined) return 1
  return Math.min(4, Math.max(0, Math.ceil(-Math.log10((SEEN / 100) * small))))
}

/** Decimals that one cell may have beyond those of its table, and change of it that is to be seen at the least, %. */
const MORE = 2
const SEEN_ALONE = 1

/**
 * Decimals at which one cell is shown: those of its table, and more where it is much smaller than the rest of a fuel base table, so
 * that a change is seen there, too.
 *
 * @param digits of the table
 * @example
 * cellDigits('fuel base', 1, 5.69) // 2
 */
export function cellDigits(kind: Table['kind'], digits: number, value: number): number {
  if (kindOfTable(kind).digits !== null || !(value > 0)) return digits
  const own = Math.ceil(-Math.log10((SEEN_ALONE / 100) * value))
  return Math.min(digits + MORE, Math.max(digits, own))
}
