import type { Transaction } from 'sequelize'
import {
  Refusal,
  type LoadAxis,
  type Matrix,
  type RevisionInfo,
  type Table,
  type TableHistory,
  type GateLine,
  type TableInfo,
  type WayTaken,
} from '@yuzumix/core'
import type { Store } from './database'
import { writeEntry } from './entries'
import type { RevisionRow, TableRow } from './models'

export async function withRevisions(store: Store, row: TableRow): Promise<TableInfo> {
  // Cells of the latest alone: a table of a hundred revisions is listed as quickly as one of two.
  const revisions = await store.models.revisions.findAll({
    where: { tableId: row.id },
    order: [['n', 'ASC']],
    attributes: { exclude: ['cells'] },
  })
  const { n } = revisions.at(-1)!.get()
  const latest = (await store.models.revisions.findOne({ where: { tableId: row.id, n } }))!.get()
  return {
    id: row.id,
    job: row.jobId,
    name: row.name,
    cylinder: row.cylinder,
    inForce: row.inForce ?? null,
    table: toTable(row, latest),
    revisions: revisions.map((one) => toRevision(one.get())),
  }
}

/** A revision about to be saved. */
export interface RevisionOf {
  table: string
  parent: number
  reason: string
  runs: string[]
  values: Matrix
  /** percent beside a trim that adds; as it was when left out */
  global?: number | undefined
  /** why a large step is taken all the same; absent where there is none */
  override?: string | undefined
  /** hardware that was changed with it, in words */
  hardware?: string | undefined
  /** the way that it puts in, where it is no table of its own */
  way?: WayTaken | undefined
  /** what the gate let pass */
  lines?: readonly GateLine[] | undefined
}

/** A revision cannot be saved because another was saved after the one it was made from. */
export const staleRevision = (latest: number): Refusal =>
  new Refusal(
    'stale-revision',
    `Revision ${latest} was saved meanwhile. Compare with it, then save again.`,
    [{ field: 'parent', message: `the latest is ${latest}` }],
    { latest },
  )

function toTable(row: TableRow, { cells, global }: Pick<RevisionRow, 'cells' | 'global'>): Table {
  return {
    kind: row.kind as Table['kind'],
    composition: row.composition as Table['composition'],
    loadAxis: row.loadAxis as LoadAxis,
    rpm: row.rpm,
    load: row.load,
    values: cells,
    ...(global && { global }),
  }
}

function toRevision({ n, parent, reason, override, runs, createdAt, way }: RevisionRow): RevisionInfo {
  return { n, parent, reason, override, runs, createdAt, way }
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
    ? { revision: toRevision(revision.get()), table: toTable(row.get(), revision.get()), name: row.get().name }
    : null
}

/**
 * Saves a revision of each of some tables in one transaction; null (and nothing is saved) when the job lacks one of them.
 *
 * @throws Refusal 'stale-revision' when a parent is no longer the latest
 */
export async function addRevisions(
  store: Store,
  jobId: string,
  revisions: readonly RevisionOf[],
): Promise<TableInfo[] | null> {
  const tables = await store.act(async (transaction) => {
    const rows = await Promise.all(
      revisions.map(({ table: id }) =>
        store.models.tables.findOne({ where: { id, jobId, removed: false }, transaction }),
      ),
    )
    if (rows.some((row) => row === null)) return null
    for (const [k, row] of rows.entries()) await insertRevision(store, transaction, row!.get(), revisions[k]!)
    return rows.map((row) => row!.get())
  })
  return tables && Promise.all(tables.map((row) => withRevisions(store, row)))
}

/** A coarse table that is set cell by cell is one still; any other way is none once its cells are set. */
function carriedOn(way: WayTaken | null, values: Matrix): WayTaken | null {
  return way && 'rpmPoints' in way.asked ? ({ ...way, settings: { ...way.settings, values } } as WayTaken) : null
}

/** Saves the next state of a table in the transaction given. @throws Refusal 'stale-revision' */
export async function insertRevision(
  store: Store,
  transaction: Transaction,
  { id: tableId, jobId, name }: TableRow,
  { parent, reason, runs, values, global, override, hardware, way, lines = [] }: RevisionOf,
): Promise<void> {
  const latest = Number(await store.models.revisions.max('n', { where: { tableId }, transaction }))
  if (parent !== latest) throw staleRevision(latest)
  const last = await store.models.revisions.findOne({ where: { tableId, n: latest }, transaction })
  await store.models.revisions.create(
    {
      tableId,
      n: latest + 1,
      parent,
      reason,
      override: override ?? null,
      global: global ?? last!.get().global,
      runs,
      cells: values,
      createdAt: new Date().toISOString(),
      way: way ?? carriedOn(last!.get().way, values),
    },
    { transaction },
  )
  const log = (act: string, text: string): Promise<void> =>
    writeEntry(store, transaction, jobId, act, `${name}, revision ${latest + 1}: ${text}`)
  if (hardware) await log('hardware changed', hardware)
  for (const line of lines) await log(line.act, line.text)
  await log('revision saved', reason)
}

/**
 * States of a job's tables that were in force at a time or came after it, oldest first: what moved since.
 *
 * @param since ISO time
 */
export async function tableHistories(store: Store, jobId: string, since: string): Promise<TableHistory[]> {
  const rows = await store.models.tables.findAll({ where: { jobId, removed: false }, order: [['position', 'ASC']] })
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
          .map((state) => ({ n: state.n, at: state.createdAt, table: toTable(row.get(), state) })),
      }
    }),
  )
}
