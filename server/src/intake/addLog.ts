import { mkdir, rm } from 'node:fs/promises'
import { randomUUID } from 'node:crypto'
import { join } from 'node:path'
import { type Job, type Mapping, type RunInfo, type RunKind } from '@yuzumix/core'
import type { WorkPool } from '../pool/pool'
import type { Store } from '../store/database'
import { loadSpill } from '../store/columns'
import { addRuns, refuseSame } from '../store/runs'

/** A log that lies in a file and is to become a run. */
export interface LogFile {
  path: string
  name: string
  kind?: RunKind | undefined
  /** set it goes to; the newest when left out */
  set?: string | undefined
  mapping?: Mapping | undefined
  /** one setting of the spark that it was made at, as somebody said it */
  setting?: RunInfo['setting'] | undefined
  sampleRateHz?: number | undefined
  /** AFR at lambda 1 of the gauge, where it differs from the job's */
  gaugeScale?: number | undefined
  /** add it even though the job has a run of the same content */
  again?: boolean
}

/**
 * Reads a log in a worker and stores each recording in it as a run, all as one act, or nothing.
 *
 * @throws Refusal 'no-log' when it cannot be read; 'same-file' when it is there already
 */
export async function addLog(
  context: { store: Store; pool: WorkPool },
  job: Job,
  file: LogFile,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<RunInfo[]> {
  const { store, pool } = context
  const spillFolder = join(store.folder, 'incoming', randomUUID())
  await mkdir(spillFolder, { recursive: true })
  try {
    const remembered = file.mapping ? {} : await rememberedMappings(store)
    const read = await pool.readLog(
      {
        path: file.path,
        spillFolder,
        mapping: file.mapping ?? null,
        remembered,
        kind: file.kind,
        gaugeScale: file.gaugeScale ?? job.gaugeScale,
        sampleRateHz: file.sampleRateHz,
      },
      onProgress,
      signal,
    )
    const onlyOnce = !file.again
    if (onlyOnce) await refuseSame(store, null, job.id, read[0]!.digest)
    signal.throwIfAborted()
    const column = new Float32Array(Math.max(...read.map((one) => one.samples)))
    const runs = read.map(({ spills, signature: _, restarts: __, ...fields }, k) => ({
      ...fields,
      name: read.length > 1 ? `${file.name.slice(0, 150)} (${k + 1})` : file.name,
      set: file.set,
      setting: file.setting ?? null,
      channels: fields.channels.map(({ factor, ...info }, c) => ({
        ...info,
        load: () => loadSpill(spills[c]!, factor, column.subarray(0, fields.samples)),
      })),
    }))
    return await addRuns(store, job.id, runs, {
      onlyOnce,
      mapping: file.mapping && { signature: read[0]!.signature, mapping: file.mapping },
    })
  } finally {
    await rm(spillFolder, { recursive: true, force: true })
  }
}

/** Mappings people chose, by header signature. */
export async function rememberedMappings(store: Store): Promise<Record<string, Mapping>> {
  const rows = await store.models.mappings.findAll({ order: [['updatedAt', 'DESC']], limit: 200 })
  return Object.fromEntries(rows.map((row) => [row.get().signature, row.get().mapping as Mapping]))
}

/** Forgets the mapping of a header; false when there is none. */
export async function forgetMapping(store: Store, signature: string): Promise<boolean> {
  return store.act(
    async (transaction) => (await store.models.mappings.destroy({ where: { signature }, transaction })) > 0,
  )
}
