import type { GateLine, Table, TableInfo, WayTaken } from '@yuzumix/core'
import type { Store } from './database'
import { writeEntry, writeLines } from './entries'
import { insertRevision, type RevisionOf } from './revisions'
import { findTable, insertTable } from './tables'

/** A way about to be put in as a table of its own. */
export interface NewWay {
  name: string
  /** what it gave before: nothing, or the numbers that stood in it */
  before: Table
  after: Table
  way: WayTaken
  reason: string
  /** runs that it rests on */
  runs: string[]
  override: string | null
  lines: readonly GateLine[]
  /** the table that it takes the place of; null for none */
  insteadOf: string | null
  /** the table beside it, where it has one */
  beside: RevisionOf | null
}

/**
 * Stores a way as a table of two states, before and after, in one transaction with the table beside it and the one that it takes
 * the place of. All runs so far were made before it.
 *
 * @returns the tables that changed
 * @throws Refusal 'stale-revision' when the table beside it was saved meanwhile
 */
export async function addWay(store: Store, jobId: string, one: NewWay): Promise<TableInfo[]> {
  const { name, before, after, way, reason, runs, override, lines, insteadOf, beside } = one
  const ids = await store.act(async (transaction) => {
    const createdAt = new Date().toISOString()
    const state = { parent: null, override: null, global: 0, runs: [], createdAt, way: null }
    const id = await insertTable(store, transaction, jobId, { name, cylinder: null, table: after }, [
      { ...state, n: 1, reason: 'Before it was put in', cells: before.values },
      { ...state, n: 2, parent: 1, reason, cells: after.values, runs, override, way },
    ])
    for (const row of await store.models.runs.findAll({
      where: { jobId },
      attributes: ['id', 'revisions'],
      transaction,
    }))
      await row.update({ revisions: { ...row.get().revisions, [id]: 1 } }, { transaction })
    if (insteadOf) await store.models.tables.update({ removed: true }, { where: { id: insteadOf, jobId }, transaction })
    await writeEntry(store, transaction, jobId, 'way put in', `${name}: ${reason}`)
    await writeLines(store, transaction, jobId, lines)
    if (!beside) return [id]
    const row = await store.models.tables.findOne({ where: { id: beside.table, jobId }, transaction })
    await insertRevision(store, transaction, row!.get(), beside)
    return [id, beside.table]
  })
  return (await Promise.all(ids.map((id) => findTable(store, jobId, id)))).map((table) => table!)
}
