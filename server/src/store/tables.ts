import { randomUUID } from 'node:crypto'
import type { Transaction } from 'sequelize'
import {
  largeSteps,
  largeStepsText,
  type LoadAxis,
  type Matrix,
  type RevisionInfo,
  type Table,
  type TableHistory,
  type TableInfo,
} from '@yuzumix/core'
import type { Store } from './database'
import { writeEntry } from './entries'
import type { RevisionRow, TableRow } from './models'

export interface NewTable {
  name: string
  cylinder: number | null
  table: Table
}

/** A revision about to be saved. */
export interface NewRevision {
  parent: number
  reason: string
  runs: string[]
  values: Matrix
  /** why a large step is taken all the same */
  override?: string | undefined
}

/** A step too large to be taken unasked, and why, in words. */
export class LargeStep extends Error {}

/** A revision cannot be saved because another was saved after the one it was made from. */
export class StaleRevision extends Error {
  constructor(readonly latest: number) {
    super(`Revision ${latest} was saved meanwhile.`)
  }
}

function toTable(row: TableRow, values: Matrix): Table {
  return {
    kind: row.kind as Table['kind'],
    composition: row.composition as Table['composition'],
    loadAxis: row.loadAxis as LoadAxis,
    rpm: row.rpm,
    load: row.load,
    values,
  }
}

function toRevision({ n, parent, reason, override, runs, createdAt }: RevisionRow): RevisionInfo {
  return { n, parent, reason, override, runs, createdAt }
}

async function withRevisions(store: Store, row: TableRow): Promise<TableInfo> {
  const revisions = await store.models.revisions.findAll({ where: { tableId: row.id }, order: [['n', 'ASC']] })
  const latest = revisions.at(-1)!.get()
  return {
    id: row.id,
    job: row.jobId,
    name: row.name,
    cylinder: row.cylinder,
    table: toTable(row, latest.cells),
    revisions: revisions.map((one) => toRevision(one.get())),
  }
}

/** Stores a table with its revisions in the transaction given. */
export async function insertTable(
  store: Store,
  transaction: Transaction,
  jobId: string,
  { name, cylinder, table }: NewTable,
  revisions: Omit<RevisionRow, 'tableId'>[],
): Promise<string> {
  const id = randomUUID()
  const { kind, composition, loadAxis, rpm, load } = table
  const position = await store.models.tables.count({ where: { jobId }, transaction })
  await store.models.tables.create(
    { id, jobId, name, cylinder, kind, composition, loadAxis, rpm, load, position },
    { transaction },
  )
  for (const revision of revisions) await store.models.revisions.create({ tableId: id, ...revision }, { transaction })
  return id
}

export async function addTable(store: Store, jobId: string, table: NewTable, reason: string): Promise<TableInfo> {
  const id = await store.act(async (transaction) => {
    const first = {
      n: 1,
      parent: null,
      reason,
      override: null,
      runs: [],
      cells: table.table.values,
      createdAt: new Date().toISOString(),
    }
    const made = await insertTable(store, transaction, jobId, table, [first])
    await writeEntry(store, transaction, jobId, 'table added', `${table.name} (${table.table.kind})`)
    return made
  })
  return (await findTable(store, jobId, id))!
}

export async function listTables(store: Store, jobId: string): Promise<TableInfo[]> {
  const rows = await store.models.tables.findAll({ where: { jobId }, order: [['position', 'ASC']] })
  return Promise.all(rows.map((row) => withRevisions(store, row.get())))
}

export async function findTable(store: Store, jobId: string, id: string): Promise<TableInfo | null> {
  const row = await store.models.tables.findOne({ where: { id, jobId } })
  return row ? withRevisions(store, row.get()) : null
}

/** A table as it stood at a revision, or null. */
export async function findRevision(
  store: Store,
  jobId: string,
  id: string,
  n: number,
): Promise<{ revision: RevisionInfo; table: Table; name: string } | null> {
  const [row, revision] = await Promise.all([
    store.models.tables.findOne({ where: { id, jobId } }),
    store.models.revisions.findOne({ where: { tableId: id, n } }),
  ])
  return row && revision
    ? { revision: toRevision(revision.get()), table: toTable(row.get(), revision.get().cells), name: row.get().name }
    : null
}

/**
 * Saves a revision; null when there is no such table.
 *
 * @throws StaleRevision when its parent is no longer the latest
 * @throws LargeStep when spark moves far at once and nobody says why it must
 */
export async function addRevision(
  store: Store,
  jobId: string,
  id: string,
  { parent, reason, runs, values, override }: NewRevision,
): Promise<TableInfo | null> {
  const found = await store.act(async (transaction) => {
    const row = await store.models.tables.findOne({ where: { id, jobId }, transaction })
    if (!row) return false
    const latest = Number(await store.models.revisions.max('n', { where: { tableId: id }, transaction }))
    if (parent !== latest) throw new StaleRevision(latest)
    const last = await store.models.revisions.findOne({ where: { tableId: id, n: latest }, transaction })
    const large = largeSteps(toTable(row.get(), last!.get().cells), values)
    if (large && !override) throw new LargeStep(largeStepsText(large))
    const taken = large ? override! : null
    const createdAt = new Date().toISOString()
    await store.models.revisions.create(
      { tableId: id, n: latest + 1, parent, reason, override: taken, runs, cells: values, createdAt },
      { transaction },
    )
    if (taken)
      await writeEntry(
        store,
        transaction,
        jobId,
        'large step of spark',
        `${row.get().name}, revision ${latest + 1}: ${taken}`,
      )
    await writeEntry(
      store,
      transaction,
      jobId,
      'revision saved',
      `${row.get().name}, revision ${latest + 1}: ${reason}`,
    )
    return true
  })
  return found ? findTable(store, jobId, id) : null
}

/**
 * States of a job's tables that were in force at a time or came after it, oldest first: what moved since.
 *
 * @param since ISO time
 */
export async function tableHistories(store: Store, jobId: string, since: string): Promise<TableHistory[]> {
  const rows = await store.models.tables.findAll({ where: { jobId }, order: [['position', 'ASC']] })
  return Promise.all(
    rows.map(async (row): Promise<TableHistory> => {
      const { id, name, cylinder } = row.get()
      const revisions = await store.models.revisions.findAll({ where: { tableId: id }, order: [['n', 'ASC']] })
      const states = revisions.map((one) => one.get())
      const inForce = Math.max(
        0,
        states.findLastIndex((one) => one.createdAt <= since),
      )
      return {
        id,
        name,
        cylinder,
        states: states
          .slice(inForce)
          .map(({ n, createdAt, cells }) => ({ n, at: createdAt, table: toTable(row.get(), cells) })),
      }
    }),
  )
}
