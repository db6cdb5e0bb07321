import { closeSync, copyFileSync, existsSync, fsyncSync, openSync, renameSync, rmSync } from 'node:fs'
import { soundBackup, storeFile } from './backups'
import { lockFolder } from './lock'
import { reachFolder } from './startingFaults'

/**
 * Puts a copy in the place of a folder's store while nothing has it open; what was there is kept beside it, damaged or not.
 *
 * @returns the name under which what was there is kept; null where there was nothing
 * @throws Refusal 'folder-taken', 'not-found' or 'backup-damaged'; nothing was changed then
 */
export async function restoreOffline(folder: string, name: string, now = new Date()): Promise<string | null> {
  reachFolder(folder)
  const lock = await lockFolder(folder)
  let isDone = false
  try {
    const copy = await soundBackup(folder, name)
    const [store, part] = [storeFile(folder), `${storeFile(folder)}.part`]
    copyFileSync(copy, part)
    const file = openSync(part, 'r+')
    fsyncSync(file)
    closeSync(file)
    const aside = existsSync(store) ? `${store}.before-${now.toISOString().replace(/[:.]/g, '')}` : null
    // Its journal goes with it: it belongs to what was there, and would spoil what comes.
    if (aside)
      for (const end of ['-wal', '-shm', ''])
        if (existsSync(`${store}${end}`)) renameSync(`${store}${end}`, `${aside}${end}`)
    renameSync(part, store)
    isDone = true
    return aside
  } finally {
    rmSync(`${storeFile(folder)}.part`, { force: true })
    await lock.release(isDone || lock.wasClosed)
  }
}
