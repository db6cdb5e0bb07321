import { open } from 'node:fs/promises'
import {
  channelsFor,
  FACT_CHANNELS,
  factsAsRead,
  type ChannelInfo,
  type ColumnPurpose,
  type RunFacts,
  type RunInfo,
} from '@yuzumix/core'
import type { StoredColumns } from './assembled'
import type { Store } from './database'
import { toFloats } from './floats'

const INFO = ['channel', 'unit', 'count', 'min', 'max', 'header', 'guessed'] as const

/** What is known of the columns of runs, by run, without the columns themselves. */
export async function channelsOf(store: Store, runIds: string[]): Promise<Map<string, ChannelInfo[]>> {
  const rows = await store.models.channels.findAll({
    where: { runId: runIds },
    attributes: ['runId', ...INFO],
    order: [['position', 'ASC']],
  })
  const byRun = new Map<string, ChannelInfo[]>()
  for (const row of rows) {
    const { runId, channel, unit, count, min, max, header, guessed } = row.get()
    const list = byRun.get(runId) ?? []
    list.push({ channel, unit, count, min, max, ...(header && { header }), ...(guessed && { guessed: true }) })
    byRun.set(runId, list)
  }
  return byRun
}

/** One column, little-endian float32 as stored; null when there is none. */
export async function readChannel(store: Store, runId: string, channel: string): Promise<Buffer | null> {
  const row = await store.models.channels.findOne({ where: { runId, channel } })
  return row ? row.get().data : null
}

/** Columns asked for of a run. */
export interface AskedColumns {
  run: string
  channels: readonly string[]
}

/**
 * Columns of runs of that job: by run, one after another in the order asked for.
 *
 * @returns null when the job lacks one of the runs, or a run one of its columns
 */
export async function readColumns(
  store: Store,
  jobId: string,
  asked: readonly AskedColumns[],
): Promise<Buffer[] | null> {
  const ids = [...new Set(asked.map(({ run }) => run))]
  if ((await store.models.runs.count({ where: { id: ids, jobId } })) < ids.length) return null
  const named = [...new Set(asked.flatMap(({ channels }) => channels))]
  const rows = await store.models.channels.findAll({
    where: { runId: ids, channel: named },
    attributes: ['runId', 'channel', 'data'],
  })
  const found = new Map(rows.map((row) => row.get()).map(({ runId, channel, data }) => [`${runId} ${channel}`, data]))
  const byRun = asked.map(({ run, channels }) => channels.map((one) => found.get(`${run} ${one}`)))
  return byRun.every((parts) => parts.length > 0 && parts.every((part) => part !== undefined))
    ? byRun.map((parts) => Buffer.concat(parts as Buffer[]))
    : null
}

/** Values that are read for what is asked, at the most: of each run all channels that any of them is asked for. */
export async function countValues(store: Store, jobId: string, asked: readonly AskedColumns[]): Promise<number> {
  const runs = await store.models.runs.findAll({
    where: { id: asked.map(({ run }) => run), jobId },
    attributes: ['samples'],
  })
  const channels = new Set(asked.flatMap((one) => one.channels)).size
  return channels * runs.reduce((sum, run) => sum + run.get().samples, 0)
}

/** Facts of a stored run, told from its columns as they are read. */
export async function factsOf(
  store: Store,
  runId: string,
  told: Pick<RunInfo, 'kind' | 'readAs' | 'without' | 'stretches'>,
): Promise<RunFacts> {
  const stored = new Map<string, Float32Array>()
  for (const channel of [...FACT_CHANNELS, 'lambda2']) {
    const data = await readChannel(store, runId, channel)
    if (data) stored.set(channel, toFloats(data))
  }
  return factsAsRead(told.readAs, (channel) => stored.get(channel) ?? null, told.kind, told)
}

/** Columns of several runs as they are stored, as far as that computation needs them. */
export async function storedColumns(
  store: Store,
  runs: readonly RunInfo[],
  purpose: ColumnPurpose = 'field',
): Promise<StoredColumns[]> {
  const byJob = new Map<string, RunInfo[]>()
  for (const run of runs) byJob.set(run.job, [...(byJob.get(run.job) ?? []), run])
  const found = new Map<string, StoredColumns>()
  for (const [job, own] of byJob) {
    const asked = own.map((run) => ({ run: run.part?.of ?? run.id, channels: channelsFor(run, purpose) }))
    const parts = (await readColumns(store, job, asked))!
    own.forEach((run, k) => found.set(run.id, { run, channels: asked[k]!.channels, values: toFloats(parts[k]!) }))
  }
  return runs.map((run) => found.get(run.id)!)
}

/**
 * A column that was spilled to a file, times a factor.
 *
 * @param into where it is read to; all columns of a run can share it, because SQLite copies what it is given
 */
export async function loadSpill(path: string, factor: number, into: Float32Array): Promise<Float32Array> {
  const file = await open(path)
  try {
    const bytes = new Uint8Array(into.buffer, into.byteOffset, into.byteLength)
    for (let at = 0; at < bytes.length;) {
      const { bytesRead } = await file.read(bytes, at, bytes.length - at, at)
      if (bytesRead === 0) throw new Error('A spilled column is shorter than its run.')
      at += bytesRead
    }
  } finally {
    await file.close()
  }
  if (factor !== 1) for (let i = 0; i < into.length; i++) into[i]! *= factor
  return into
}
