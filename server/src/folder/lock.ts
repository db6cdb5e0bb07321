import { readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { Refusal } from '@yuzumix/core'
import { isDiskFull } from './space'
import { connectTo } from './sqlite'

/** A folder that no other process may open meanwhile. */
export interface FolderLock {
  /** whether whoever had it last closed it in order */
  wasClosed: boolean
  /** whether a store was ever opened in it to the end */
  hasBegun: boolean
  /** a store is open in it now */
  begun(): void
  /** Tells whoever finds it locked where its owner is to be found. */
  tell(address: string): void
  /** @param isWhole whether all was closed in order */
  release(isWhole?: boolean): Promise<void>
}

/** What stands beside the lock: who has the folder, or had it. */
interface Owner {
  pid: number
  since: string
  address?: string
  closed?: boolean
  /** a store was opened to the end */
  begun?: boolean
}

/**
 * Locks a folder for this process. The lock is SQLite's own on a file of its own, which the system lets go of when the process
 * ends, however it ends: none is left behind.
 *
 * @throws Refusal 'folder-taken' with the process and the address that have it
 */
export async function lockFolder(folder: string): Promise<FolderLock> {
  const note = noteIn(folder)
  const lock = await connectTo(join(folder, 'lock.sqlite'), 'make')
  try {
    await lock.all('PRAGMA busy_timeout = 0')
    await lock.all('BEGIN EXCLUSIVE')
  } catch (error) {
    await lock.close()
    if ((error as { code?: string }).code !== 'SQLITE_BUSY') throw error
    const owner = ownerOf(folder)
    const who = owner ? `process ${owner.pid}${owner.address ? `, at ${owner.address}` : ''}, since ${owner.since}` : ''
    throw new Refusal(
      'folder-taken',
      `Another Yuzumix has the folder ${folder} open${who && ` (${who})`}. Use that one, end it first, or name another folder with YUZUMIX_DATA.`,
    )
  }
  const last = ownerOf(folder)
  let owner: Owner = { pid: process.pid, since: new Date().toISOString(), begun: last?.begun ?? false }
  // Whole or not at all, whatever ends the process.
  const write = (): void => {
    try {
      writeFileSync(`${note}.part`, `${JSON.stringify(owner)}\n`)
      renameSync(`${note}.part`, note)
    } catch (error) {
      // Who has the folder can be told later; what is in it must be reached, to make room.
      if (!isDiskFull(error)) throw error
    }
  }
  write()
  return {
    wasClosed: last?.closed ?? !last,
    hasBegun: last?.begun ?? false,
    begun() {
      owner = { ...owner, begun: true }
      write()
    },
    tell(address) {
      owner = { ...owner, address }
      write()
    },
    async release(isWhole = true) {
      owner = { ...owner, closed: isWhole }
      write()
      await lock.close()
    },
  }
}

const noteIn = (folder: string): string => join(folder, 'owner.json')

/** Who has a folder, or had it last; null where nobody is known. */
export function ownerOf(folder: string): Owner | null {
  try {
    return JSON.parse(readFileSync(noteIn(folder), 'utf8')) as Owner
  } catch {
    return null
  }
}
