import { randomUUID } from 'node:crypto'
import type { Transaction } from 'sequelize'
import type { Store } from './database'
import { writeEntry } from './entries'
import type { LineKind } from './models'

/** A line of a job as it is stored: a complaint, a line of the rig list or of the put-back ledger. */
export interface StoredLine<Data> {
  id: string
  at: string
  data: Data
}

/** Lines of a kind in the order in which they came. */
export async function listLines<Data>(store: Store, jobId: string, kind: LineKind): Promise<StoredLine<Data>[]> {
  const rows = await store.models.lines.findAll({ where: { jobId, kind }, order: [['position', 'ASC']] })
  return rows.map((row) => {
    const { id, at, data } = row.get()
    return { id, at, data: data as Data }
  })
}

/**
 * Adds a line and tells the logbook, as one act.
 *
 * @param id a new one when left out
 */
export async function addLine<Data extends object>(
  store: Store,
  jobId: string,
  kind: LineKind,
  data: Data,
  said: [act: string, text: string],
  id = randomUUID() as string,
): Promise<StoredLine<Data>> {
  return store.act(async (transaction) => {
    const line = await insertLine(store, transaction, jobId, kind, { id, at: new Date().toISOString(), data })
    await writeEntry(store, transaction, jobId, ...said)
    return line
  })
}

/** Stores a line in the transaction given, behind those of its kind. */
export async function insertLine<Data extends object>(
  store: Store,
  transaction: Transaction,
  jobId: string,
  kind: LineKind,
  line: StoredLine<Data>,
): Promise<StoredLine<Data>> {
  const position = await store.models.lines.count({ where: { jobId, kind }, transaction })
  await store.models.lines.create(
    { jobId, kind, id: line.id, at: line.at, position, data: { ...line.data } as Record<string, unknown> },
    { transaction },
  )
  return line
}

/** What a line becomes, from what it is now, and what the logbook says of it; what it throws undoes the act. */
type Change<Data> = (now: Data) => { data: Data; said: [act: string, text: string] }

/** Changes a line and tells the logbook, as one act; null when there is no such line. */
export async function changeLine<Data extends object>(
  store: Store,
  jobId: string,
  kind: LineKind,
  id: string,
  change: Change<Data>,
): Promise<StoredLine<Data> | null> {
  return store.act((transaction) => updateLine(store, transaction, jobId, kind, id, change))
}

/** The same in the transaction given. */
export async function updateLine<Data extends object>(
  store: Store,
  transaction: Transaction,
  jobId: string,
  kind: LineKind,
  id: string,
  change: Change<Data>,
): Promise<StoredLine<Data> | null> {
  const row = await store.models.lines.findOne({ where: { jobId, kind, id }, transaction })
  if (!row) return null
  const { data, said } = change(row.get().data as Data)
  await row.update({ data: data as Record<string, unknown> }, { transaction })
  await writeEntry(store, transaction, jobId, ...said)
  return { id, at: row.get().at, data }
}

/** Takes a line away; false when there is none. */
export async function dropLine(
  store: Store,
  jobId: string,
  kind: LineKind,
  id: string,
  said: [act: string, text: string],
): Promise<boolean> {
  return store.act(async (transaction) => {
    const dropped = await store.models.lines.destroy({ where: { jobId, kind, id }, transaction })
    if (dropped) await writeEntry(store, transaction, jobId, ...said)
    return dropped > 0
  })
}
