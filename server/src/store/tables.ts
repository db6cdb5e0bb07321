import { randomUUID } from 'node:crypto'
import type { Transaction } from 'sequelize'
import { inForceWords, type InForce, type Table, type GateLine, type TableChange, type TableInfo } from '@yuzumix/core'
import type { Store } from './database'
import { writeEntry, writeLines } from './entries'
import type { RevisionRow } from './models'
import { withRevisions } from './revisions'

export interface NewTable {
  name: string
  cylinder: number | null
  /** where it is in force; null where it always is */
  inForce?: InForce | null | undefined
  table: Table
}

/** Stores a table with its revisions in the transaction given. */
export async function insertTable(
  store: Store,
  transaction: Transaction,
  jobId: string,
  { name, cylinder, table, inForce = null }: NewTable,
  revisions: Omit<RevisionRow, 'tableId'>[],
): Promise<string> {
  const id = randomUUID()
  const { kind, composition, loadAxis, rpm, load } = table
  const position = await store.models.tables.count({ where: { jobId }, transaction })
  await store.models.tables.create(
    { id, jobId, name, cylinder, kind, composition, loadAxis, rpm, load, position, removed: false, inForce },
    { transaction },
  )
  for (const revision of revisions) await store.models.revisions.create({ tableId: id, ...revision }, { transaction })
  return id
}

/** @param passed why values that no usual engine runs on are so, and its lines for the logbook */
export async function addTable(
  store: Store,
  jobId: string,
  table: NewTable,
  reason: string,
  passed: { override: string | null; lines: readonly GateLine[] } = { override: null, lines: [] },
): Promise<TableInfo> {
  const id = await store.act(async (transaction) => {
    const first = {
      n: 1,
      parent: null,
      reason,
      override: passed.override,
      global: table.table.global ?? 0,
      runs: [],
      cells: table.table.values,
      createdAt: new Date().toISOString(),
      way: null,
    }
    const made = await insertTable(store, transaction, jobId, table, [first])
    await writeEntry(store, transaction, jobId, 'table added', `${table.name} (${table.table.kind})`)
    await writeLines(store, transaction, jobId, passed.lines)
    return made
  })
  return (await findTable(store, jobId, id))!
}

/** Tables of a job in their order. @param removed those that were taken out instead */
export async function listTables(store: Store, jobId: string, removed = false): Promise<TableInfo[]> {
  const rows = await store.models.tables.findAll({ where: { jobId, removed }, order: [['position', 'ASC']] })
  return Promise.all(rows.map((row) => withRevisions(store, row.get())))
}

export async function findTable(store: Store, jobId: string, id: string): Promise<TableInfo | null> {
  const row = await store.models.tables.findOne({ where: { id, jobId, removed: false } })
  return row ? withRevisions(store, row.get()) : null
}

/** Renames a table, says where it is in force, takes it out or puts it back; null when the job has no such table. Its revisions stay. */
export async function changeTable(
  store: Store,
  jobId: string,
  id: string,
  { name, removed, inForce }: TableChange,
): Promise<TableInfo | null> {
  const row = await store.act(async (transaction) => {
    const found = await store.models.tables.findOne({ where: { id, jobId }, transaction })
    if (!found) return null
    const { name: before } = found.get()
    const changes = {
      ...(name && { name }),
      ...(removed !== undefined && { removed }),
      ...(inForce !== undefined && { inForce }),
    }
    await found.update(changes, { transaction })
    const log = (act: string, text: string): Promise<void> => writeEntry(store, transaction, jobId, act, text)
    if (name !== undefined) await log('table renamed', name === before ? before : `${before}: now ${name}`)
    if (removed !== undefined) await log(removed ? 'table taken out' : 'table put back', before)
    if (inForce !== undefined) await log('map in force', `${before}: ${inForce ? inForceWords(inForce) : 'always'}`)
    return found.get()
  })
  return row && withRevisions(store, row)
}
