import { setsPlate } from '../table/kinds'
import { sameGrid, type Table } from '../table/table'

/** A table and the cylinder that it serves, null for all: one of a controller, or one of a job. */
interface Served {
  cylinder: number | null
  table: Pick<Table, 'kind' | 'rpm' | 'load'>
}

const AS_FOUND = ', as found'

/** How a table is called that was in the controller before the first write. */
export const nameAsFound = (name: string): string => name + AS_FOUND

/** Whether a job's table can stand in that place of the controller. */
export function fitsController(one: Served, inside: Served): boolean {
  return one.cylinder === inside.cylinder && one.table.kind === inside.table.kind && sameGrid(one.table, inside.table)
}

/**
 * The job's table that is worked on for that place of the controller: not the one kept as it was found. Of several that fit
 * the one of its name goes first; plates of several riding modes look alike, so there nothing but the name will do.
 */
export function workingTable<T extends Served & { name: string }>(
  tables: readonly T[],
  inside: Served & { name: string },
): T | undefined {
  const fitting = tables.filter((one) => fitsController(one, inside) && !one.name.endsWith(AS_FOUND))
  const named = fitting.find((one) => one.name === inside.name)
  return named ?? (setsPlate(inside.table) ? undefined : fitting[0])
}
