import { randomUUID } from 'node:crypto'
import type { Transaction } from 'sequelize'
import type { Entry } from '@yuzumix/core'
import type { Store } from './database'

/** Writes a line into the job's logbook, in the transaction of the act it tells of. */
export async function writeEntry(
  store: Store,
  transaction: Transaction,
  jobId: string,
  act: string,
  text: string,
): Promise<void> {
  await store.models.entries.create(
    { id: randomUUID(), jobId, at: new Date().toISOString(), act, text },
    { transaction },
  )
}

/** The logbook, newest first. */
export async function listEntries(store: Store, jobId: string): Promise<Entry[]> {
  const rows = await store.models.entries.findAll({ where: { jobId }, order: [['at', 'DESC']], limit: 500 })
  return rows.map((row) => {
    const { id, at, act, text } = row.get()
    return { id, at, act, text }
  })
}
