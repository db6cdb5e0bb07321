import { randomUUID } from 'node:crypto'
import { open } from 'node:fs/promises'
import type { Transaction } from 'sequelize'
import {
  assembleRun,
  channelsFor,
  FACT_CHANNELS,
  grouped,
  runFacts,
  type ChannelInfo,
  type LeftOut,
  type ColumnPurpose,
  type RunChange,
  type RunColumns,
  type RunFacts,
  type RunInfo,
  type RunKind,
  type SensorPlace,
  type SparkSetting,
} from '@yuzumix/core'
import type { Store } from './database'
import { writeEntry } from './entries'
import { toFloats } from './floats'
import type { RunRow } from './models'
import { newestSet } from './sets'
import { checkBinding, latestRevisions } from './tables'

/** A run about to be stored. Columns come one by one, so that only one is in memory at a time. */
export interface NewRun extends Pick<
  RunInfo,
  'name' | 'kind' | 'samples' | 'duration' | 'warnings' | 'gaugeScale' | 'facts'
> {
  /** of what it was made from: the same file is not added twice unasked */
  digest: string
  /** the newest of the job when left out */
  set?: string | undefined
  leftOut?: LeftOut | null
  setting?: SparkSetting | null
  /** revision by table that was in force; the latest of each when left out */
  revisions?: Record<string, number>
  /** now when left out */
  createdAt?: string
  channels: (ChannelInfo & { load(): Promise<Float32Array> })[]
}

const INFO = ['channel', 'unit', 'count', 'min', 'max'] as const

function toInfo(row: RunRow, channels: ChannelInfo[], sensorPlace: SensorPlace | null): RunInfo {
  const { jobId, setId, digest: _digest, removed: _removed, position: _position, ...fields } = row
  return { ...fields, job: jobId, set: setId, channels, sensorPlace }
}

async function placesOf(store: Store, jobId: string): Promise<Map<string, SensorPlace | null>> {
  const rows = await store.models.sets.findAll({ where: { jobId }, attributes: ['id', 'data'] })
  return new Map(rows.map((row) => [row.get().id, row.get().data.sensorPlace ?? null]))
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
  const { channels, set, ...fields } = run
  await store.models.runs.create(
    {
      leftOut: null,
      setting: null,
      ...fields,
      revisions: fields.revisions ?? (await latestRevisions(store, transaction, jobId)),
      createdAt: fields.createdAt ?? new Date().toISOString(),
      id,
      jobId,
      setId: set ?? (await newestSet(store, transaction, jobId)),
      removed: false,
      position,
    },
    { transaction },
  )
  for (const [place, { load, ...info }] of channels.entries()) {
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
  const [channels, places] = await Promise.all([
    channelsOf(
      store,
      rows.map((row) => row.get().id),
    ),
    placesOf(store, jobId),
  ])
  return rows.map((row) => toInfo(row.get(), channels.get(row.get().id) ?? [], places.get(row.get().setId) ?? null))
}

export async function findRun(store: Store, jobId: string, id: string): Promise<RunInfo | null> {
  const row = await store.models.runs.findOne({ where: { id, jobId } })
  if (!row) return null
  const [channels, places] = await Promise.all([channelsOf(store, [id]), placesOf(store, jobId)])
  return toInfo(row.get(), channels.get(id) ?? [], places.get(row.get().setId) ?? null)
}

/** A run of this job with the same file content, if any. */
export async function findSame(store: Store, jobId: string, digest: string): Promise<RunInfo | null> {
  const row = await store.models.runs.findOne({ where: { jobId, digest, removed: false } })
  return row ? toInfo(row.get(), [], null) : null
}

/** One column, little-endian float32 as stored; null when there is none. */
export async function readChannel(store: Store, runId: string, channel: string): Promise<Buffer | null> {
  const row = await store.models.channels.findOne({ where: { runId, channel } })
  return row ? row.get().data : null
}

/**
 * Several columns of a run of that job, one after another in the order asked for.
 *
 * @returns null when the job has no such run, or the run not all of them
 */
export async function readColumns(
  store: Store,
  jobId: string,
  runId: string,
  channels: readonly string[],
): Promise<Buffer | null> {
  const run = await store.models.runs.findOne({ where: { id: runId, jobId }, attributes: ['id'] })
  const rows = run
    ? await store.models.channels.findAll({ where: { runId, channel: [...channels] }, attributes: ['channel', 'data'] })
    : []
  const found = new Map(rows.map((row) => [row.get().channel, row.get().data]))
  const parts = channels.map((channel) => found.get(channel))
  return parts.length > 0 && parts.every((part) => part !== undefined) ? Buffer.concat(parts) : null
}

/** A run cannot be put into that set. */
class NoSuchSet extends Error {
  readonly status = 400
  readonly title = 'Input refused'
  readonly detail = `set: ${this.message}.`
  readonly faults = [{ field: 'set', message: this.message }]
}

/**
 * Changes a run. Another kind tells its facts anew; another gauge scale rescales the lambda columns that came from AFR, in the same transaction.
 *
 * @returns null when there is no such run
 * @throws NoSuchSet when it is to go to a set that the job does not have
 * @throws NoSuchRevision when it is to be bound to a revision that the job does not have
 */
export async function changeRun(
  store: Store,
  jobId: string,
  id: string,
  { gaugeScale, set, ...change }: RunChange,
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
    if (set !== undefined && !(await store.models.sets.findOne({ where: { id: set, jobId }, transaction })))
      throw new NoSuchSet('there is no such set in this job')
    const bound = change.revisions && { ...before.revisions, ...change.revisions }
    if (change.revisions) await checkBinding(store, transaction, jobId, change.revisions)
    const facts = change.kind && change.kind !== before.kind ? await factsOf(store, id, change.kind) : before.facts
    await row.update(
      { ...change, facts, ...(bound && { revisions: bound }), ...(set !== undefined && { setId: set }) },
      { transaction },
    )
    await writeEntry(store, transaction, jobId, ...entryFor(change, before.name))
    return true
  })
  return found ? findRun(store, jobId, id) : null
}

function entryFor({ removed, leftOut, setting, revisions }: RunChange, name: string): [act: string, text: string] {
  if (revisions) return ['run made on', `${name}: revision ${Object.values(revisions).join(', ')}`]
  if (setting) return ['spark setting', `${name}: ${setting.advance}°${setting.knock ? ', knock was heard' : ''}`]
  if (removed !== undefined) return [removed ? 'run taken out' : 'run put back', name]
  if (leftOut === undefined) return ['run changed', name]
  if (leftOut === null) return ['run taken in again', name]
  const span =
    leftOut.fromRpm === null ? 'run left out' : `left out ${grouped(leftOut.fromRpm)} to ${grouped(leftOut.toRpm!)} rpm`
  return [span, `${name}: ${leftOut.reason}`]
}

/** Facts of a stored run, told from its columns. */
async function factsOf(store: Store, runId: string, kind: RunKind): Promise<RunFacts> {
  const columns = await Promise.all(
    FACT_CHANNELS.map(async (channel) => {
      const data = await readChannel(store, runId, channel)
      return data ? [[channel, toFloats(data)] as const] : []
    }),
  )
  return runFacts(Object.fromEntries(columns.flat()), kind)
}

/** Columns of several runs, as far as that computation needs them. */
export async function loadColumns(
  store: Store,
  runs: readonly RunInfo[],
  purpose: ColumnPurpose = 'field',
): Promise<RunColumns[]> {
  return Promise.all(
    runs.map(async (run) => {
      const wanted = channelsFor(run, purpose)
      const all = toFloats((await readColumns(store, run.job, run.id, wanted))!)
      return assembleRun(run, (channel) => {
        const at = wanted.indexOf(channel)
        // A copy, so that each column can be handed over by itself.
        return at < 0 ? null : all.slice(at * run.samples, (at + 1) * run.samples)
      })
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
