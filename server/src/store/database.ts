import { existsSync, mkdirSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { Sequelize, type Transaction } from 'sequelize'
import { Umzug } from 'umzug'
import { Refusal } from '@yuzumix/core'
import { dropUnfinished, makeBackup, storeFile } from '../folder/backups'
import { lockFolder, type FolderLock } from '../folder/lock'
import { fullDiskWords, isDiskFull } from '../folder/space'
import { connectTo } from '../folder/sqlite'
import { checkStore, reachFolder, strangeMigrations } from '../folder/startingFaults'
import { changesOf, type Changes } from './changes'
import { applyMigration, markedMigrations, migrations, type Migration } from './migrations'
import { defineModels, type Models } from './models'

/** The open store: its models, and the only way to write to it. */
export interface Store {
  sequelize: Sequelize
  models: Models
  folder: string
  /** Runs one act in one transaction; acts wait for each other, so none meets a locked database. */
  act<T>(work: (transaction: Transaction) => Promise<T>): Promise<T>
  /** who wants to know what an act has changed, once it is stored */
  changes: Pick<Changes, 'notify' | 'listen'>
  /**
   * Puts the whole of a sound copy in its place, brought up to this version. Acts under way end before, and what is there then is
   * copied: none that was confirmed is lost.
   */
  restore(copy: string): Promise<void>
  /** where it is to be found, for whoever finds its folder locked */
  tellAddress(address: string): void
  close(): Promise<void>
}

/**
 * Opens (and where needed makes or migrates) the store in a folder, which is locked meanwhile.
 *
 * WAL with synchronous FULL: what was confirmed survives kill -9 and power loss. An older store is copied before it is migrated.
 *
 * @param steps the schema's changes, in order; fewer make a store as an older version did
 * @throws Refusal 'folder-taken', 'folder-closed', 'store-damaged' or 'store-newer', in words with a cure; nothing was changed then
 */
export async function openStore(folder: string, steps: readonly Migration[] = migrations): Promise<Store> {
  reachFolder(folder)
  const lock = await lockFolder(folder)
  try {
    await checkStore(folder, lock.hasBegun, lock.wasClosed)
    await refuseNewer(storeFile(folder))
    return await openLocked(folder, steps, lock)
  } catch (error) {
    await lock.release(lock.wasClosed)
    throw isDiskFull(error) ? new Refusal('disk-full', `${folder}: ${fullDiskWords()}`) : error
  }
}

/** @throws Refusal 'store-newer' where a file was made by a version that knows more than this one */
export async function refuseNewer(path: string): Promise<void> {
  if (!existsSync(path) || statSync(path).size === 0) return
  const strange = await strangeMigrations(
    path,
    migrations.map((one) => one.name),
  )
  if (strange.length)
    throw new Refusal(
      'store-newer',
      `${path} was made by a newer Yuzumix (it knows ${strange.join(', ')}): start that version. Nothing was changed.`,
    )
}

async function openLocked(folder: string, steps: readonly Migration[], lock: FolderLock): Promise<Store> {
  // What an upload left that was cut off belongs to nothing.
  rmSync(join(folder, 'incoming'), { recursive: true, force: true })
  dropUnfinished(folder)
  mkdirSync(join(folder, 'incoming'), { recursive: true })
  const sequelize = new Sequelize({ dialect: 'sqlite', storage: storeFile(folder), logging: false })
  await sequelize.query('PRAGMA journal_mode = WAL')
  await sequelize.query('PRAGMA synchronous = FULL')
  const umzug = new Umzug({
    migrations: steps.map((one) => ({ name: one.name, up: () => applyMigration(sequelize, one) })),
    storage: markedMigrations(sequelize),
    logger: undefined,
  })
  if ((await umzug.executed()).length > 0 && (await umzug.pending()).length > 0)
    await makeBackup(folder, 'before a migration')
  await umzug.up()
  lock.begun()
  const changes = changesOf(sequelize)
  let last: Promise<unknown> = Promise.resolve()
  return {
    changes,
    sequelize,
    models: defineModels(sequelize),
    folder,
    act(work) {
      let of: Transaction | undefined
      const next = last.then(() => sequelize.transaction((transaction) => work((of = transaction))))
      last = next.then(
        () => of && changes.stored(of),
        () => undefined,
      )
      return next
    },
    restore(copy) {
      const next = last.then(async () => {
        await makeBackup(folder, 'before a restore')
        const connection = await connectTo(storeFile(folder), 'write')
        try {
          await connection.copyFrom(copy)
        } finally {
          await connection.close()
        }
        await umzug.up()
      })
      last = next.catch(() => undefined)
      return next
    },
    tellAddress: lock.tell,
    async close() {
      await last
      await sequelize.close()
      await lock.release()
    },
  }
}
