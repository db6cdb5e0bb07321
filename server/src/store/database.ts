import { mkdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { Sequelize, type Transaction } from 'sequelize'
import { Umzug } from 'umzug'
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
  close(): Promise<void>
}

/**
 * Opens (and where needed makes or migrates) the store in a folder.
 *
 * WAL with synchronous FULL: what was confirmed survives kill -9 and power loss.
 *
 * @param steps the schema's changes, in order; fewer make a store as an older version did
 */
export async function openStore(folder: string, steps: readonly Migration[] = migrations): Promise<Store> {
  // What an upload left that was cut off belongs to nothing.
  rmSync(join(folder, 'incoming'), { recursive: true, force: true })
  mkdirSync(join(folder, 'incoming'), { recursive: true })
  const sequelize = new Sequelize({ dialect: 'sqlite', storage: join(folder, 'yuzumix.sqlite'), logging: false })
  await sequelize.query('PRAGMA journal_mode = WAL')
  await sequelize.query('PRAGMA synchronous = FULL')
  const umzug = new Umzug({
    migrations: steps.map((one) => ({ name: one.name, up: () => applyMigration(sequelize, one) })),
    storage: markedMigrations(sequelize),
    logger: undefined,
  })
  await umzug.up()
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
    async close() {
      await last
      await sequelize.close()
    },
  }
}
