import { Op } from 'sequelize'
import { BIN_DAYS, type BinnedJob } from '@yuzumix/core'
import type { Store } from './database'
import { writeEntry } from './entries'

const goneAt = (deletedAt: string): string => new Date(Date.parse(deletedAt) + BIN_DAYS * 86_400_000).toISOString()

/** Puts a job into the bin with all it holds; false when there is none. */
export async function binJob(store: Store, id: string, now = new Date()): Promise<boolean> {
  return store.act(async (transaction) => {
    const row = await store.models.jobs.findOne({ where: { id, deletedAt: null }, transaction })
    if (!row) return false
    await row.update({ deletedAt: now.toISOString() }, { transaction })
    await writeEntry(
      store,
      transaction,
      id,
      'job deleted',
      `${row.get().title}; it can be brought back for ${BIN_DAYS} days`,
    )
    return true
  })
}

/** Jobs in the bin, the last one first. */
export async function listBin(store: Store): Promise<BinnedJob[]> {
  const rows = await store.models.jobs.findAll({
    where: { deletedAt: { [Op.ne]: null } },
    order: [['deletedAt', 'DESC']],
  })
  return rows.map((row) => {
    const { id, title, deletedAt } = row.get()
    return { id, title, deletedAt: deletedAt!, goneAt: goneAt(deletedAt!) }
  })
}

/** Brings a job back out of the bin; false when it is not there. */
export async function bringBack(store: Store, id: string): Promise<boolean> {
  return store.act(async (transaction) => {
    const row = await store.models.jobs.findOne({ where: { id, deletedAt: { [Op.ne]: null } }, transaction })
    if (!row) return false
    await row.update({ deletedAt: null }, { transaction })
    await writeEntry(store, transaction, id, 'job brought back', row.get().title)
    return true
  })
}

/** Takes a job out of the bin for good; false when it is not there. */
export async function dropBinned(store: Store, id: string): Promise<boolean> {
  return store.act(
    async (transaction) =>
      (await store.models.jobs.destroy({ where: { id, deletedAt: { [Op.ne]: null } }, transaction })) > 0,
  )
}

/** Lets go what has lain in the bin for its time. @returns how many jobs went */
export async function emptyBin(store: Store, now = new Date()): Promise<number> {
  const before = new Date(now.getTime() - BIN_DAYS * 86_400_000).toISOString()
  return store.act((transaction) =>
    store.models.jobs.destroy({ where: { deletedAt: { [Op.lt]: before } }, transaction }),
  )
}
