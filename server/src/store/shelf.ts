import { randomUUID } from 'node:crypto'
import type { Shelf } from '@yuzumix/core'
import type { Store } from './database'
import type { Models } from './models'

type Row = InstanceType<Models['shelf']>
const told = (row: Row): Shelf => {
  const { id, name, at, data } = row.get()
  return { id, name, at, ...data }
}

/** Calibrations kept from earlier jobs, newest first. They stay when their job is deleted. */
export async function listShelf(store: Store): Promise<Shelf[]> {
  return (await store.models.shelf.findAll({ order: [['at', 'DESC']] })).map(told)
}

export async function findShelf(store: Store, id: string): Promise<Shelf | null> {
  const row = await store.models.shelf.findByPk(id)
  return row && told(row)
}

export async function addShelf(store: Store, { name, ...data }: Omit<Shelf, 'id' | 'at'>): Promise<Shelf> {
  const row = { id: randomUUID() as string, name, at: new Date().toISOString(), data }
  await store.act((transaction) => store.models.shelf.create({ ...row }, { transaction }))
  return { id: row.id, name, at: row.at, ...data }
}

/** Takes a calibration off the shelf; false when there is none. */
export function dropShelf(store: Store, id: string): Promise<boolean> {
  return store.act(async (transaction) => (await store.models.shelf.destroy({ where: { id }, transaction })) > 0)
}
