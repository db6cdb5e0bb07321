import type { GateLine, Matrix, Table, TableInfo, WayTaken } from '@yuzumix/core'
import type { Store } from './database'
import { writeEntry, writeLines } from './entries'
import { insertRevision, type RevisionOf } from './revisions'
import { findTable, insertTable } from './tables'

/** A state of a way's table, oldest first in a list of them. */
export interface WayState {
  values: Matrix
  way: WayTaken | null
  reason: string
  runs: string[]
  override: string | null
  /** ISO time */
  createdAt: string
}

/** A way about to be put in as a table of its own. */
export interface NewWay {
  name: string
  /** its breakpoints */
  table: Table
  /** states that it had before, on these breakpoints, and the one that is put in */
  states: WayState[]
  /** the state that each run of the job was made on, from 1 */
  madeOn: ReadonlyMap<string, number>
  lines: readonly GateLine[]
  /** the table whose place it takes; null for none */
  insteadOf: string | null
  /** the table beside it, where it has one */
  beside: RevisionOf | null
}

/**
 * Stores a way as a table with all its states, in one transaction with the table beside it and the one whose place it takes;
 * each run is bound to the state that it was made on.
 *
 * @returns the tables that changed
 * @throws Refusal 'stale-revision' when the table beside it was saved meanwhile
 */
export async function addWay(store: Store, jobId: string, one: NewWay): Promise<TableInfo[]> {
  const { name, table, states, madeOn, lines, insteadOf, beside } = one
  const ids = await store.act(async (transaction) => {
    const revisions = states.map(({ values, ...state }, k) => ({
      ...state,
      n: k + 1,
      parent: k === 0 ? null : k,
      global: 0,
      cells: values,
    }))
    const id = await insertTable(store, transaction, jobId, { name, cylinder: null, table }, revisions)
    const rows = await store.models.runs.findAll({ where: { jobId }, attributes: ['id', 'revisions'], transaction })
    for (const row of rows) {
      const run = row.get()
      await row.update({ revisions: { ...run.revisions, [id]: madeOn.get(run.id) ?? 1 } }, { transaction })
    }
    if (insteadOf) await store.models.tables.update({ removed: true }, { where: { id: insteadOf, jobId }, transaction })
    await writeEntry(store, transaction, jobId, 'way put in', `${name}: ${states.at(-1)!.reason}`)
    await writeLines(store, transaction, jobId, lines)
    if (!beside) return [id]
    const row = await store.models.tables.findOne({ where: { id: beside.table, jobId }, transaction })
    await insertRevision(store, transaction, row!.get(), beside)
    return [id, beside.table]
  })
  return (await Promise.all(ids.map((id) => findTable(store, jobId, id)))).map((found) => found!)
}
