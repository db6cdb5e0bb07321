import { randomUUID } from 'node:crypto'
import { mkdir, rm } from 'node:fs/promises'
import { join } from 'node:path'
import type { Job } from '@yuzumix/core'
import { gatherJob } from '../../archive/pack'
import { storeArchive } from '../../archive/unpack'
import { inTurn } from '../../pool/inTurn'
import type { WorkPool } from '../../pool/pool'
import type { Store } from '../../store/database'

/** What reads and writes archives: the store they come from or go to, and threads to do it in. */
interface Context {
  store: Store
  pool: WorkPool
}
type Told = (share: number) => void

/** All runs of a job are read from the store for its archive: of many that are asked for at once, one at a time. */
const gatherInTurn = inTurn()

/** Work with a folder of its own under the one for what comes in, which is gone afterwards whatever happens. */
async function inFolder<T>(store: Store, work: (folder: string) => Promise<T>): Promise<T> {
  const folder = join(store.folder, 'incoming', randomUUID())
  await mkdir(folder, { recursive: true })
  try {
    return await work(folder)
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

/** Writes the archive of a job to a file. @param signal ends it */
export function writeArchive(
  { store, pool }: Context,
  job: Job,
  to: string,
  onProgress: Told,
  signal: AbortSignal,
): Promise<void> {
  return inFolder(store, async (folder) =>
    pool.packArchive({ ...(await gatherInTurn(() => gatherJob(store, job, folder, signal))), to }, onProgress, signal),
  )
}

/**
 * Stores a job from its archive, under a new id.
 *
 * @param override why what can hurt is taken all the same
 * @returns its id
 * @throws Refusal 'no-archive'; what the gate refuses
 */
export function readArchive(
  { store, pool }: Context,
  path: string,
  override: string | undefined,
  onProgress: Told,
  signal: AbortSignal,
): Promise<string> {
  return inFolder(store, async (folder) => {
    const read = await pool.readArchive({ path, folder }, (share) => onProgress(0.8 * share), signal)
    return storeArchive(store, read, override, signal)
  })
}
