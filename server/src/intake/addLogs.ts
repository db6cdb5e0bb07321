import { mkdir, rm } from 'node:fs/promises'
import { randomUUID } from 'node:crypto'
import { join } from 'node:path'
import { isRefusal, Refusal, type Job, type RunInfo } from '@yuzumix/core'
import type { WorkPool } from '../pool/pool'
import type { Store } from '../store/database'
import { addLog, type LogFile } from './addLog'
import { packedAs, type Unpacked } from './unpackLogs'

/** Runs that a file brought, and the logs inside it that brought none, each with why. */
export interface LogsAdded {
  runs: RunInfo[]
  refused: Unpacked['refused']
}

/**
 * Reads a file that is a log, or holds some (gzip, zip, XLSX), and stores the runs of each log as one act.
 *
 * @throws Refusal as `addLog` does, where nothing was added
 */
export async function addLogs(
  context: { store: Store; pool: WorkPool },
  job: Job,
  file: LogFile,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<LogsAdded> {
  if (!packedAs(file.path)) return { runs: await addLog(context, job, file, onProgress, signal), refused: [] }
  const folder = join(context.store.folder, 'incoming', randomUUID())
  await mkdir(folder, { recursive: true })
  try {
    const { files, refused } = await context.pool.unpack({ path: file.path, name: file.name, folder }, signal)
    // One log in a pack is taken as if it came alone, and refused alike.
    if (files.length === 1 && refused.length === 0) {
      const log = { ...file, ...files[0]! }
      return { runs: await addLog(context, job, log, onProgress, signal), refused: [] }
    }
    const added: LogsAdded = { runs: [], refused: [...refused] }
    for (const [k, one] of files.entries()) {
      const share = (own: number): void => onProgress((k + own) / files.length)
      try {
        added.runs.push(...(await addLog(context, job, { ...file, ...one }, share, signal)))
      } catch (error) {
        if (!isRefusal(error)) throw error
        added.refused.push({ file: one.name, detail: error.message })
      }
    }
    if (added.runs.length) return added
    throw new Refusal(
      'no-log',
      `None of the ${files.length} files inside was added. ${added.refused[0]!.file}: ${added.refused[0]!.detail}`,
      added.refused.map(({ file: field, detail }) => ({ field, message: detail })),
    )
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}
