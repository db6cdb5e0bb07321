import { randomUUID } from 'node:crypto'
import type { Transaction } from 'sequelize'
import {
  inputRefused,
  grouped,
  Refusal,
  type ChannelInfo,
  type GateLine,
  type LeftOut,
  type ReadAs,
  type RunChange,
  type RunInfo,
  type SensorPlace,
  type SparkSetting,
} from '@yuzumix/core'
import { channelsOf, factsOf } from './columns'
import type { Store } from './database'
import { writeEntry, writeLines } from './entries'
import { toFloats } from './floats'
import type { RunRow } from './models'
import { newestSet } from './sets'
import { checkBinding, latestRevisions } from './madeOn'

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
  without?: RunInfo['without'] | undefined
  readAs?: ReadAs | null
  setting?: SparkSetting | null
  stretches?: RunInfo['stretches'] | undefined
  /** revision by table that was in force; the latest of each when left out */
  revisions?: Record<string, number>
  /** now when left out */
  createdAt?: string
  channels: (ChannelInfo & { load(): Promise<Float32Array> })[]
}

function toInfo(row: RunRow, channels: ChannelInfo[], sensorPlace: SensorPlace | null): RunInfo {
  const { jobId, setId, digest: _digest, removed: _removed, position: _position, ...fields } = row
  return { ...fields, job: jobId, set: setId, channels, sensorPlace }
}

async function placesOf(store: Store, jobId: string): Promise<Map<string, SensorPlace | null>> {
  const rows = await store.models.sets.findAll({ where: { jobId }, attributes: ['id', 'data'] })
  return new Map(rows.map((row) => [row.get().id, row.get().data.sensorPlace ?? null]))
}

/** Stores a run with all its columns in the transaction given. */
export async function insertRun(store: Store, transaction: Transaction, jobId: string, run: NewRun): Promise<string> {
  const id = randomUUID()
  const position = await store.models.runs.count({ where: { jobId }, transaction })
  const { channels, set, ...fields } = run
  await store.models.runs.create(
    {
      leftOut: null,
      readAs: null,
      setting: null,
      ...fields,
      without: fields.without ?? null,
      stretches: fields.stretches ?? null,
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

export async function addRun(store: Store, jobId: string, run: NewRun): Promise<RunInfo> {
  return (await addRuns(store, jobId, [run]))[0]!
}

/** What is to be minded when runs are stored. */
interface Adding {
  /** that somebody chose for their columns, to be remembered */
  mapping?: { signature: string; mapping: Record<string, unknown> } | undefined
  /** where the job has a run of the same content, nothing is stored */
  onlyOnce?: boolean
}

/**
 * Stores runs as one act.
 *
 * @throws Refusal 'same-file' where the first is in the job already, and was to come once
 */
export async function addRuns(
  store: Store,
  jobId: string,
  runs: readonly NewRun[],
  { mapping, onlyOnce = false }: Adding = {},
): Promise<RunInfo[]> {
  const ids = await store.act(async (transaction) => {
    // Looked for here, where nobody else stores: the same file may be sent several times at once.
    if (onlyOnce) await refuseSame(store, transaction, jobId, runs[0]!.digest)
    const added: string[] = []
    for (const run of runs) {
      added.push(await insertRun(store, transaction, jobId, run))
      await writeEntry(store, transaction, jobId, 'run added', `${run.name}: ${run.samples} samples`)
    }
    if (mapping) await keepMapping(store, transaction, mapping.signature, mapping.mapping)
    return added
  })
  return Promise.all(ids.map(async (id) => (await findRun(store, jobId, id))!))
}

const keepMapping = (store: Store, transaction: Transaction, signature: string, mapping: object): Promise<unknown> =>
  store.models.mappings.upsert(
    { signature, mapping: { ...mapping }, updatedAt: new Date().toISOString() },
    { transaction },
  )

/** Remembers what the columns of a header are. */
export const rememberMapping = (store: Store, signature: string, mapping: object): Promise<unknown> =>
  store.act((transaction) => keepMapping(store, transaction, signature, mapping))

/** Runs of a job in the order in which they came. @param removed true for those that were taken out instead */
export async function listRuns(store: Store, jobId: string, removed = false): Promise<RunInfo[]> {
  const rows = await store.models.runs.findAll({ where: { jobId, removed }, order: [['position', 'ASC']] })
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

/** @throws Refusal 'same-file' where the job has a run of that content */
export async function refuseSame(
  store: Store,
  transaction: Transaction | null,
  jobId: string,
  digest: string,
): Promise<void> {
  const row = await store.models.runs.findOne({ where: { jobId, digest, removed: false }, transaction })
  if (!row) return
  const { id, name } = row.get()
  throw new Refusal(
    'same-file',
    `The same file is already in this job as "${name}". It was not added a second time.`,
    [{ field: 'again', message: 'send true to add it all the same' }],
    { run: id },
  )
}

/**
 * Changes a run. Another kind tells its facts anew; another gauge scale rescales the lambda columns that came from AFR, in the same transaction.
 *
 * @param lines what the gate let pass
 * @returns null when there is no such run
 * @throws Refusal 'input-refused' when it is to go to a set that the job does not have
 * @throws Refusal 'input-refused' when it is to be bound to a revision that the job does not have
 */
export async function changeRun(
  store: Store,
  jobId: string,
  id: string,
  change: Omit<RunChange, 'override'>,
  lines: readonly GateLine[] = [],
): Promise<RunInfo | null> {
  const found = await store.act(async (transaction) => {
    const before = await applyChange(store, transaction, jobId, id, change)
    if (!before) return false
    await writeEntry(store, transaction, jobId, ...entryFor(change, before.name))
    await writeLines(store, transaction, jobId, lines)
    return true
  })
  return found ? findRun(store, jobId, id) : null
}

/**
 * Changes several runs, all of them or none.
 *
 * @param changes by run
 * @param said of it in the logbook
 * @returns false when one of them is not in the job: nothing is changed then
 * @throws Refusal 'input-refused'; NoSuchRevision
 */
export async function changeRuns(
  store: Store,
  jobId: string,
  changes: ReadonlyMap<string, Omit<RunChange, 'override'>>,
  said: [act: string, text: string],
  lines: readonly GateLine[],
): Promise<boolean> {
  const ids = [...changes.keys()]
  return store.act(async (transaction) => {
    if ((await store.models.runs.count({ where: { id: ids, jobId }, transaction })) < ids.length) return false
    for (const [id, change] of changes) await applyChange(store, transaction, jobId, id, change)
    await writeEntry(store, transaction, jobId, ...said)
    await writeLines(store, transaction, jobId, lines)
    return true
  })
}

/** Changes a run in the transaction given. @returns the run as it was; null when there is none */
async function applyChange(
  store: Store,
  transaction: Transaction,
  jobId: string,
  id: string,
  { gaugeScale, set, ...change }: Omit<RunChange, 'override'>,
): Promise<RunRow | null> {
  const row = await store.models.runs.findOne({ where: { id, jobId }, transaction })
  if (!row) return null
  const before = { ...row.get() }
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
    throw inputRefused([{ field: 'set', message: 'there is no such set in this job' }])
  const bound = change.revisions && { ...before.revisions, ...change.revisions }
  if (change.revisions) await checkBinding(store, transaction, jobId, change.revisions)
  const kind = change.kind ?? before.kind
  const isTold = kind !== before.kind || change.without !== undefined
  const facts = isTold
    ? await factsOf(store, id, {
        ...before,
        kind,
        without: change.without === undefined ? before.without : change.without,
      })
    : before.facts
  await row.update(
    { ...change, facts, ...(bound && { revisions: bound }), ...(set !== undefined && { setId: set }) },
    { transaction },
  )
  return before
}

/** Binds runs to a revision of a table, as one act. @param said for the logbook */
export async function bindRuns(
  store: Store,
  jobId: string,
  ids: readonly string[],
  table: string,
  n: number,
  said: string,
): Promise<void> {
  await store.act(async (transaction) => {
    await checkBinding(store, transaction, jobId, { [table]: n })
    for (const id of ids) {
      const row = await store.models.runs.findOne({ where: { id, jobId }, transaction })
      await row?.update({ revisions: { ...row.get().revisions, [table]: n } }, { transaction })
    }
    await writeEntry(store, transaction, jobId, 'runs made on', said)
  })
}

function entryFor(
  { removed, leftOut, without, setting, revisions }: RunChange,
  name: string,
): [act: string, text: string] {
  if (revisions) return ['run made on', `${name}: revision ${Object.values(revisions).join(', ')}`]
  if (setting) return ['spark setting', `${name}: ${setting.advance}°${setting.knock ? ', knock was heard' : ''}`]
  if (removed !== undefined) return [removed ? 'run taken out' : 'run put back', name]
  if (without !== undefined) return ['left out by time', `${name}: ${withoutWords(without)}`]
  if (leftOut === undefined) return ['run changed', name]
  if (leftOut === null) return ['run taken in again', name]
  const span =
    leftOut.fromRpm === null ? 'run left out' : `left out ${grouped(leftOut.fromRpm)} to ${grouped(leftOut.toRpm!)} rpm`
  return [span, `${name}: ${leftOut.reason}`]
}

const withoutWords = (spans: RunInfo['without']): string =>
  spans?.length
    ? spans
        .map(({ from, to, reason }) => `${from.toFixed(1)} to ${to.toFixed(1)} s, ${reason}`)
        .join('; ')
        .slice(0, 1000)
    : 'all of it counts again'
