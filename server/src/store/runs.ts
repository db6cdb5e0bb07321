import { randomUUID } from 'node:crypto'
import { open } from 'node:fs/promises'
import type { Transaction } from 'sequelize'
import type { ChannelInfo, RunColumns, RunInfo, RunKind } from '@yuzumix/core'
import type { Store } from './database'
import { writeEntry } from './entries'
import type { RunRow } from './models'

/** A run about to be stored. Columns come one by one, so that only one is in memory at a time. */
export interface NewRun {
  name: string
  kind: RunKind
  samples: number
  duration: number
  warnings: string[]
  gaugeScale: number | null
  digest: string
  channels: (ChannelInfo & { load(): Promise<Float32Array> })[]
}

const INFO = ['channel', 'unit', 'count', 'min', 'max'] as const

function toInfo(row: RunRow, channels: ChannelInfo[]): RunInfo {
  const { id, jobId, name, kind, samples, duration, warnings, gaugeScale, createdAt } = row
  return { id, job: jobId, name, kind: kind as RunKind, samples, duration, channels, warnings, gaugeScale, createdAt }
}

async function channelsOf(store: Store, runIds: string[]): Promise<Map<string, ChannelInfo[]>> {
  const rows = await store.models.channels.findAll({
    where: { runId: runIds },
    attributes: ['runId', ...INFO],
    order: [['position', 'ASC']],
  })
  const byRun = new Map<string, ChannelInfo[]>()
  for (const row of rows) {
    const { runId, channel, unit, count, min, max } = row.get()
    const list = byRun.get(runId) ?? []
    list.push({ channel, unit, count, min, max })
    byRun.set(runId, list)
  }
  return byRun
}

/** Stores a run with all its columns in the transaction given. */
export async function insertRun(store: Store, transaction: Transaction, jobId: string, run: NewRun): Promise<string> {
  const id = randomUUID()
  const position = await store.models.runs.count({ where: { jobId }, transaction })
  const { name, kind, samples, duration, warnings, gaugeScale, digest } = run
  await store.models.runs.create(
    {
      id,
      jobId,
      name,
      kind,
      samples,
      duration,
      warnings,
      gaugeScale,
      digest,
      removed: false,
      position,
      createdAt: new Date().toISOString(),
    },
    { transaction },
  )
  for (const [place, { load, ...info }] of run.channels.entries()) {
    const column = await load()
    await store.models.channels.create(
      { runId: id, position: place, ...info, data: Buffer.from(column.buffer, column.byteOffset, column.byteLength) },
      { transaction },
    )
  }
  return id
}

export async function addRun(
  store: Store,
  jobId: string,
  run: NewRun,
  mapping?: { signature: string; mapping: Record<string, unknown> },
): Promise<RunInfo> {
  const id = await store.act(async (transaction) => {
    const runId = await insertRun(store, transaction, jobId, run)
    if (mapping)
      await store.models.mappings.upsert({ ...mapping, updatedAt: new Date().toISOString() }, { transaction })
    await writeEntry(store, transaction, jobId, 'run added', `${run.name}: ${run.samples} samples`)
    return runId
  })
  return (await findRun(store, jobId, id))!
}

/** Runs of a job in the order in which they came. */
export async function listRuns(store: Store, jobId: string): Promise<RunInfo[]> {
  const rows = await store.models.runs.findAll({ where: { jobId, removed: false }, order: [['position', 'ASC']] })
  const channels = await channelsOf(
    store,
    rows.map((row) => row.get().id),
  )
  return rows.map((row) => toInfo(row.get(), channels.get(row.get().id) ?? []))
}

export async function findRun(store: Store, jobId: string, id: string): Promise<RunInfo | null> {
  const row = await store.models.runs.findOne({ where: { id, jobId } })
  return row ? toInfo(row.get(), (await channelsOf(store, [id])).get(id) ?? []) : null
}

/** A run of this job with the same file content, if any. */
export async function findSame(store: Store, jobId: string, digest: string): Promise<RunInfo | null> {
  const row = await store.models.runs.findOne({ where: { jobId, digest, removed: false } })
  return row ? toInfo(row.get(), []) : null
}

/** One column, little-endian float32 as stored; null when there is none. */
export async function readChannel(store: Store, runId: string, channel: string): Promise<Buffer | null> {
  const row = await store.models.channels.findOne({ where: { runId, channel } })
  return row ? row.get().data : null
}

export interface RunChange {
  name?: string
  kind?: RunKind
  removed?: boolean
  gaugeScale?: number
}

/**
 * Changes a run. Another gauge scale rescales the lambda columns that came from AFR, in the same transaction.
 *
 * @returns null when there is no such run
 */
export async function changeRun(
  store: Store,
  jobId: string,
  id: string,
  { gaugeScale, ...change }: RunChange,
): Promise<RunInfo | null> {
  const found = await store.act(async (transaction) => {
    const row = await store.models.runs.findOne({ where: { id, jobId }, transaction })
    if (!row) return false
    const before = row.get()
    if (gaugeScale !== undefined && before.gaugeScale !== null) {
      const factor = before.gaugeScale / gaugeScale
      for (const column of await store.models.channels.findAll({ where: { runId: id }, transaction })) {
        const { channel, min, max, data } = column.get()
        if (!channel.startsWith('lambda')) continue
        const scaled = toFloats(data).map((value) => value * factor)
        await column.update({ min: min * factor, max: max * factor, data: Buffer.from(scaled.buffer) }, { transaction })
      }
      await row.update({ gaugeScale }, { transaction })
    }
    await row.update(change, { transaction })
    const act = change.removed === true ? 'run taken out' : change.removed === false ? 'run put back' : 'run changed'
    await writeEntry(store, transaction, jobId, act, before.name)
    return true
  })
  return found ? findRun(store, jobId, id) : null
}

/** Bytes of a column as numbers, on a buffer of their own. */
export function toFloats(data: Buffer): Float32Array {
  return new Float32Array(data.buffer.slice(data.byteOffset, data.byteOffset + data.byteLength))
}

/** The columns that the estimator needs, of several runs. */
export async function loadColumns(store: Store, runs: readonly RunInfo[]): Promise<RunColumns[]> {
  return Promise.all(
    runs.map(async (run) => {
      const get = async (channel: string): Promise<Float32Array | undefined> => {
        if (!run.channels.some((one) => one.channel === channel)) return undefined
        const data = await readChannel(store, run.id, channel)
        return data ? toFloats(data) : undefined
      }
      const [time, rpm, throttle, manifold, coolant, ...lambda] = await Promise.all(
        ['time', 'rpm', 'throttle', 'manifold', 'coolant', 'lambda1', 'lambda2', 'lambda3', 'lambda4'].map(get),
      )
      return {
        id: run.id,
        time: time!,
        rpm: rpm!,
        ...(throttle && { throttle }),
        ...(manifold && { manifold }),
        ...(coolant && { coolant }),
        lambda: lambda.filter((one) => one !== undefined),
      }
    }),
  )
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
