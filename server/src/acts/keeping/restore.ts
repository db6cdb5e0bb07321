import { randomUUID } from 'node:crypto'
import { copyFile, mkdir, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { refused } from '@yuzumix/core'
import { readArchive, writeArchive } from '../jobs/archives'
import { soundBackup, storeFile } from '../../folder/backups'
import { connectTo } from '../../folder/sqlite'
import type { WorkPool } from '../../pool/pool'
import type { Benches } from '../../sessions/benches'
import { openStore, refuseNewer, type Store } from '../../store/database'
import { findJob, listJobs } from '../../store/jobs'

/** A job as a copy of the store holds it. */
interface HeldJob {
  id: string
  title: string
  createdAt: string
}

/** Jobs that a copy holds, newest first. @throws Refusal 'not-found' or 'backup-damaged' */
export async function jobsInBackup(store: Store, name: string): Promise<HeldJob[]> {
  const connection = await connectTo(await soundBackup(store.folder, name), 'write')
  try {
    return await connection.all<HeldJob>('SELECT id, title, createdAt FROM jobs ORDER BY createdAt DESC')
  } finally {
    await connection.close()
  }
}

/** Every part of a job, for those who look at one while all of it is replaced. */
const ALL_PARTS = ['job', 'sets', 'runs', 'tables', 'entries', 'handling', 'reports', 'training'] as const

/**
 * Puts a copy in the place of the whole store; what was there is copied before.
 *
 * @throws Refusal 'bench' while one is connected, 'not-found', 'backup-damaged', 'store-newer'
 */
export async function restoreStore(store: Store, benches: Benches, name: string): Promise<void> {
  const path = await soundBackup(store.folder, name)
  await refuseNewer(path)
  const [connected] = (await listJobs(store)).filter((job) => benches.of(job.id))
  if (connected)
    throw refused('bench', `A bench is connected to "${connected.title}": let it go first, then restore.`, 'backup')
  await store.restore(path)
  for (const { id } of await listJobs(store)) store.changes.notify({ job: id, parts: [...ALL_PARTS] })
}

/**
 * Brings one job out of a copy, as a new job beside those that are there.
 *
 * @returns its id
 * @throws Refusal 'not-found', 'backup-damaged', 'store-newer'
 */
export async function restoreJob(
  { store, pool }: { store: Store; pool: WorkPool },
  name: string,
  job: string,
  signal: AbortSignal,
): Promise<string> {
  const path = await soundBackup(store.folder, name)
  await refuseNewer(path)
  const folder = join(store.folder, 'incoming', randomUUID())
  try {
    await mkdir(folder, { recursive: true })
    await copyFile(path, storeFile(folder))
    const copy = await openStore(folder)
    const zip = join(folder, 'job.zip')
    try {
      const held = await findJob(copy, job)
      if (!held) throw refused('not-found', `The backup "${name}" holds no such job.`, 'job')
      await writeArchive({ store: copy, pool }, held, zip, () => undefined, signal)
    } finally {
      await copy.close()
    }
    return await readArchive({ store, pool }, zip, `brought back from the backup ${name}`, () => undefined, signal)
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}
