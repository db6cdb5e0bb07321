import { randomUUID } from 'node:crypto'
import { literal, type Transaction } from 'sequelize'
import type { Entry, GateLine, NewEntry } from '@yuzumix/core'
import type { Store } from './database'

/** Lines of a logbook that are read at most. */
const MOST_ENTRIES = 2000

/** Writes a line into the job's logbook, in the transaction of the act it tells of. */
export async function writeEntry(
  store: Store,
  transaction: Transaction,
  jobId: string,
  act: string,
  text: string,
): Promise<void> {
  await store.models.entries.create(
    {
      id: randomUUID(),
      jobId,
      at: new Date().toISOString(),
      act,
      text,
      kind: 'act',
      run: null,
      rpm: null,
      load: null,
      photo: null,
    },
    { transaction },
  )
}

/** Writes what the gate let pass, with the reasons, in the transaction of the act. */
export async function writeLines(
  store: Store,
  transaction: Transaction,
  jobId: string,
  lines: readonly GateLine[],
): Promise<void> {
  for (const { act, text } of lines) await writeEntry(store, transaction, jobId, act, text)
}

/** The logbook, newest first; of one moment the line that was written last. @param most null for all of it */
export async function listEntries(store: Store, jobId: string, most: number | null = MOST_ENTRIES): Promise<Entry[]> {
  const rows = await store.models.entries.findAll({
    where: { jobId },
    order: [
      ['at', 'DESC'],
      [literal('rowid'), 'DESC'],
    ],
    ...(most !== null && { limit: most }),
  })
  return rows.map((row) => {
    const { jobId: _job, ...entry } = row.get()
    return entry
  })
}

/** Keeps a note of a person with its photo, as one act. */
export async function addNote(
  store: Store,
  jobId: string,
  { text, run, rpm, load }: NewEntry,
  photo: { type: string; data: Buffer } | null,
): Promise<Entry> {
  const note = {
    id: randomUUID(),
    at: new Date().toISOString(),
    act: 'note',
    text,
    kind: 'note' as const,
    run: run ?? null,
    rpm: rpm ?? null,
    load: load ?? null,
    photo: photo?.type ?? null,
  }
  await store.act((transaction) => insertEntry(store, transaction, jobId, note, photo?.data ?? null))
  return note
}

/** Stores a line as it is, with its photo. */
export async function insertEntry(
  store: Store,
  transaction: Transaction,
  jobId: string,
  entry: Entry,
  photo: Buffer | null,
): Promise<void> {
  // Sequelize writes into what it is given.
  await store.models.entries.create({ ...entry, jobId }, { transaction })
  if (photo) await store.models.photos.create({ entryId: entry.id, data: photo }, { transaction })
}

/** The photo of a line of that job, as it was stored; null without one. */
export async function findPhoto(
  store: Store,
  jobId: string,
  id: string,
): Promise<{ type: string; data: Buffer } | null> {
  const entry = await store.models.entries.findOne({ where: { jobId, id } })
  const type = entry?.get().photo
  const row = type ? await store.models.photos.findByPk(id) : null
  return row && type ? { type, data: row.get().data } : null
}
