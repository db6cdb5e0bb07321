import type { TableKind } from '@yuzumix/core'
import type { DeskKind } from './useTableDesk'

/** Kinds of table that a desk holds, in the order in which they are offered, with what their cells are. */
export const DESK_KINDS: Readonly<Record<DeskKind, readonly { value: TableKind; label: string; cells: string }[]>> = {
  fuel: [
    { value: 'fuel trim', label: 'Trim, %', cells: 'a trim, in percent' },
    { value: 'fuel base', label: 'Base', cells: 'fuel, in any unit' },
    { value: 'filling', label: 'Filling, %', cells: 'filling, in percent' },
    { value: 'lambda target', label: 'Commanded λ', cells: 'the lambda that is commanded' },
  ],
  spark: [
    { value: 'spark trim', label: 'Trim, °', cells: 'a trim, in degrees' },
    { value: 'spark base', label: 'Base', cells: 'advance, in degrees' },
  ],
  plate: [{ value: 'plate', label: 'Plate, %', cells: 'the plate, in percent' }],
}
