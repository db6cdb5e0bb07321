import { sameFuelTable } from '../delivery/injectors'
import { setsFuel, setsTarget } from '../table/kinds'
import { actTogether, type InForce } from '../table/inForce'
import type { Table } from '../table/table'
import { movedSince, revisionOf } from './madeOn'
import type { RunInfo } from '../run/runInfo'
import type { TableInfo } from '../contract/table'
import type { TableSince } from '../change/sinceMeasured'
import type { Loader } from './ground'

/** Revision by table. */
export type States = ReadonlyMap<string, number>

/** Tables of a job that rule its fuel; beside a table of filling the wanted lambda is one of them: fuel = filling / lambda. */
export const fuelTables = <T extends Pick<TableInfo, 'table'>>(tables: readonly T[]): T[] => {
  const hasFilling = tables.some((one) => one.table.kind === 'filling')
  return tables.filter((one) => setsFuel(one.table) || (hasFilling && setsTarget(one.table)))
}

/** Fuel tables that act on the readings of one map: those that take turns with it do not. @param inForce of that map; null for all */
export const tablesActing = <T extends Pick<TableInfo, 'table' | 'inForce'>>(
  tables: readonly T[],
  inForce: InForce | null,
): T[] => fuelTables(tables).filter((one) => actTogether(one.inForce, inForce))

/** The table that commands lambda beside one of filling; null where none does. */
export const commandedTable = <T extends Pick<TableInfo, 'table'>>(tables: readonly T[]): T | null =>
  fuelTables(tables).find((one) => setsTarget(one.table)) ?? null

const wayOf = ({ revisions }: Pick<TableInfo, 'revisions'>) => revisions.at(-1)!.way?.asked.kind

/** Tables whose cells are set one by one; bands, strips, one percent and a pressure are set by their numbers. */
export const setByCell = <T extends Pick<TableInfo, 'revisions'>>(tables: readonly T[]): T[] =>
  tables.filter((one) => [undefined, 'injectors', 'coarse'].includes(wayOf(one)))

/**
 * Fuel tables that are no other way on top of a calibration: those that a change, a loop and a plan are worked out for. A wanted
 * lambda is changed by intent, never by what was measured.
 */
export const plainFuelTables = <T extends Pick<TableInfo, 'table' | 'revisions'>>(tables: readonly T[]): T[] =>
  setByCell(fuelTables(tables)).filter((one) => wayOf(one) !== 'coarse' && setsFuel(one.table))

/** The latest state of each table. */
export const latestStates = (tables: readonly TableInfo[]): States =>
  new Map(tables.map((one) => [one.id, one.revisions.at(-1)!.n]))

/** The state of each table that a run was made on. */
export const statesOf = (run: RunInfo, tables: readonly TableInfo[]): States =>
  new Map(tables.map((one) => [one.id, revisionOf(run, one)]))

/**
 * A state of a table as it would have to be on the injectors of a later one: a swap of hardware between the two is no change of
 * fuel.
 */
function onHardwareOf({ revisions }: Pick<TableInfo, 'revisions'>, then: Table, from: number, to: number): Table {
  const [first, last] = [Math.min(from, to), Math.max(from, to)]
  const swaps = revisions.flatMap(({ n, way }) =>
    n > first && n <= last && way?.asked.kind === 'injectors' ? [way.asked] : [],
  )
  return swaps.reduce(sameFuelTable, then)
}

/** Tables as they were at one state and at another, where the two differ. */
export async function tablesBetween(
  loader: Pick<Loader, 'revision'>,
  tables: readonly TableInfo[],
  from: States,
  to: States,
): Promise<TableSince[]> {
  const between = tables.map(async (info): Promise<TableSince[]> => {
    const { job, id, cylinder } = info
    const [first, last] = [from.get(id), to.get(id)]
    if (first === undefined || last === undefined || last === first) return []
    const [then, now] = await Promise.all([first, last].map((n) => loader.revision(job, id, n)))
    return then && now ? [{ cylinder, then: onHardwareOf(info, then, first, last), now }] : []
  })
  return (await Promise.all(between)).flat()
}

/** A table that moved since some runs were made, and the revision that they were made on. */
export interface TableMoved extends TableSince {
  id: string
  revision: number
}

/**
 * Tables that moved since some runs were made, as they were then and as they are now, so that the same correction is not
 * taken twice.
 */
export async function tablesSince(
  loader: Pick<Loader, 'revision'>,
  tables: readonly TableInfo[],
  states: States,
): Promise<TableMoved[]> {
  const moved = movedSince(tables, states).map(async ({ info, n }): Promise<TableMoved[]> => {
    const then = await loader.revision(info.job, info.id, n)
    if (!then) return []
    const was = onHardwareOf(info, then, n, info.revisions.at(-1)!.n)
    return [{ id: info.id, revision: n, cylinder: info.cylinder, then: was, now: info.table }]
  })
  return (await Promise.all(moved)).flat()
}
