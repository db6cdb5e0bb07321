import { accessSync, constants, existsSync, mkdirSync, statSync } from 'node:fs'
import { Refusal } from '@yuzumix/core'
import { newestSound, storeFile } from './backups'
import { faultOfFile } from './soundness'
import { connectTo } from './sqlite'

/** Makes a folder where there is none. @throws Refusal 'folder-closed' where it cannot be made or written to, in words */
export function reachFolder(folder: string): void {
  try {
    mkdirSync(folder, { recursive: true })
    accessSync(folder, constants.R_OK | constants.W_OK | constants.X_OK)
  } catch (error) {
    const { code } = error as { code?: string }
    const why =
      code === 'EACCES' || code === 'EPERM'
        ? 'this user may not write there'
        : code === 'EROFS'
          ? 'it lies on something that can only be read'
          : code === 'ENOTDIR' || code === 'EEXIST'
            ? 'a file stands where the folder should be'
            : code === 'ENOSPC'
              ? 'the disk is full'
              : 'it cannot be made'
    throw new Refusal(
      'folder-closed',
      `The folder ${folder} cannot be used: ${why}. Mend that, or name another folder with YUZUMIX_DATA.`,
    )
  }
}

/**
 * Checks the store of a folder before anything is done with it.
 *
 * @param hasBegun whether a store has been opened there before: without, an empty file is a first start that was cut off
 * @param isWhole whether it was closed in order the last time
 * @throws Refusal 'store-damaged' with the newest sound copy and how to take it
 */
export async function checkStore(folder: string, hasBegun: boolean, isWhole: boolean): Promise<void> {
  const path = storeFile(folder)
  const isEmpty = !existsSync(path) || statSync(path).size === 0
  const fault = await faultOfFile(path, isWhole ? 'quick' : 'full')
  if (!fault) return
  const newest = await newestSound(folder)
  if (isEmpty && !hasBegun && !newest) return
  const anew = isEmpty ? ' To begin anew, empty the folder.' : ''
  const cure = newest
    ? `The newest sound backup is of ${newest.at.slice(0, 16).replace('T', ' ')} UTC. Take it with: npm run restore -- ${newest.name}`
    : 'There is no sound backup beside it: keep the file as it is, and bring one of your own copies.'
  throw new Refusal(
    'store-damaged',
    `The store ${path} cannot be opened: ${fault}. Nothing was changed. ${cure}${anew}`,
  )
}

/** Names of the schema's changes that a store has and this version does not know. */
export async function strangeMigrations(path: string, known: readonly string[]): Promise<string[]> {
  const connection = await connectTo(path, 'write')
  try {
    const rows = await connection.all<{ name: string }>(
      `SELECT name FROM sqlite_master WHERE type = 'table' AND name = 'SequelizeMeta'`,
    )
    if (rows.length === 0) return []
    const marks = await connection.all<{ name: string }>('SELECT name FROM SequelizeMeta')
    return marks.map((one) => one.name).filter((name) => !known.includes(name))
  } finally {
    await connection.close()
  }
}
