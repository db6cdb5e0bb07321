import type { Transaction } from 'sequelize'
import { inputRefused, fitsController, workingTable, type ControllerWays, type Table } from '@yuzumix/core'
import type { Store } from './database'

/** Latest revision of each table of a job. */
export async function latestRevisions(
  store: Store,
  transaction: Transaction,
  jobId: string,
): Promise<Record<string, number>> {
  const tables = await store.models.tables.findAll({ where: { jobId }, attributes: ['id'], transaction })
  const latest = await Promise.all(
    tables.map(async (row): Promise<[string, number]> => {
      const tableId = row.get().id
      return [tableId, Number(await store.models.revisions.max('n', { where: { tableId }, transaction }))]
    }),
  )
  return Object.fromEntries(latest)
}

/**
 * Checks that a run can be bound to these revisions.
 *
 * @throws Refusal 'input-refused'
 */
export async function checkBinding(
  store: Store,
  transaction: Transaction,
  jobId: string,
  revisions: Record<string, number>,
): Promise<void> {
  for (const [tableId, n] of Object.entries(revisions)) {
    const table = await store.models.tables.findOne({ where: { id: tableId, jobId }, transaction })
    const revision = table && (await store.models.revisions.findOne({ where: { tableId, n }, transaction }))
    if (!revision)
      throw inputRefused([{ field: 'revisions', message: `there is no revision ${n} of such a table in this job` }])
  }
}

/** What of a job's tables is in a controller. */
interface Holding {
  /** newest revision of each table that holds just what is in it; tables that it does not hold are left out */
  revisions: Record<string, number>
  /** names of the tables worked on whose place in it holds what is no revision of them */
  foreign: string[]
}

/** The newest state of a table whose way holds these settings; the one before it was put in where none does. */
async function wayHolding(store: Store, tableId: string, ways: ControllerWays): Promise<[string, number][]> {
  const revisions = await store.models.revisions.findAll({ where: { tableId }, order: [['n', 'DESC']] })
  const kind = revisions.map((one) => one.get().way?.asked.kind).find((one) => one !== undefined)
  if (kind === undefined || !Object.hasOwn(ways, kind)) return []
  const settings = JSON.stringify(ways[kind as keyof ControllerWays])
  const same = revisions.find((one) => JSON.stringify(one.get().way?.settings) === settings)
  return [[tableId, same?.get().n ?? 1]]
}

/** Compares what is in a controller with the tables of a job. @param ways its settings beside the tables; null for none */
export async function revisionsHolding(
  store: Store,
  jobId: string,
  inside: readonly { name: string; cylinder: number | null; table: Table }[],
  ways: ControllerWays | null = null,
): Promise<Holding> {
  const rows = await store.models.tables.findAll({ where: { jobId } })
  const found = await Promise.all(
    rows.map(async (row): Promise<[string, number][]> => {
      const { id, cylinder, kind, rpm, load } = row.get()
      const slot = inside.find((one) =>
        fitsController({ cylinder, table: { kind: kind as Table['kind'], rpm, load } }, one),
      )
      if (!slot) return ways ? wayHolding(store, id, ways) : []
      const cells = JSON.stringify(slot.table.values)
      const revisions = await store.models.revisions.findAll({ where: { tableId: id }, order: [['n', 'DESC']] })
      const same = revisions.find((one) => JSON.stringify(one.get().cells) === cells)
      return same ? [[id, same.get().n]] : []
    }),
  )
  const revisions = Object.fromEntries(found.flat())
  const served = rows.map((row) => {
    const { id, name, cylinder, kind, rpm, load } = row.get()
    return { id, name, cylinder, table: { kind: kind as Table['kind'], rpm, load } }
  })
  const foreign = inside.flatMap((slot) => {
    const own = workingTable(served, slot)
    return own && revisions[own.id] === undefined ? [own.name] : []
  })
  return { revisions, foreign }
}
