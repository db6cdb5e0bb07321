import { newRun } from '../intake/newRun'
import { randomUUID } from 'node:crypto'
import {
  leanTargets,
  checkTable,
  DEFAULT_MIXTURE,
  historyDangers,
  jobTarget,
  passGate,
  type ArchivedJob,
  type Danger,
  type NewJob,
  type Table,
} from '@yuzumix/core'
import type { Store } from '../store/database'
import { insertEntry, writeEntry, writeLines } from '../store/entries'
import { createJobRow } from '../store/jobs'
import { insertLine } from '../store/lines'
import { insertRun } from '../store/runs'
import { insertSet } from '../store/sets'
import { insertTable } from '../store/tables'
import { photoFile } from './photoFile'
import { unzip, readJobFile, readPhoto, readRunFile } from './archiveFiles'

/**
 * Stores a job from its archive under a new id, all or nothing.
 *
 * @param override why what went far without a reason, or a lean target, is taken all the same
 * @returns the id
 * @throws Refusal 'no-archive' when it is no job archive; what the gate refuses when it holds what can hurt and nobody says why
 */
export async function unpackJob(store: Store, content: Uint8Array, override?: string): Promise<string> {
  const files = unzip(content)
  const archived = readJobFile(files)
  const runs = archived.runs.map((run) => ({ run, columns: readRunFile(files, run) }))
  const photos = archived.entries.map(({ photo }) => (photo ? readPhoto(files, photo.file) : null))
  const tables = archived.tables.map((one) => {
    const table = checkTable(one.table)
    one.revisions.forEach((revision) => checkTable({ ...table, values: revision.cells }))
    return { ...one, table }
  })
  const lines = passGate(archiveDangers(archived, tables), override)
  return store.act(async (transaction) => {
    const { archived: _was, ...fields } = archived.job
    const id = await createJobRow(store, transaction, fields)
    const ids: string[] = []
    const setIds: string[] = []
    for (const set of archived.sets) setIds.push(await insertSet(store, transaction, id, set))
    for (const { run, columns } of runs) {
      const { channels, file: _file, samples: _samples, setting, createdAt, ...fields } = run
      const named = channels.map(({ channel, unit }, k) => ({ channel, unit, values: columns[k]! }))
      ids.push(
        await insertRun(store, transaction, id, {
          ...newRun(named, {
            ...fields,
            set: setIds[run.set]!,
            ...(setting && { setting }),
            ...(createdAt && { createdAt }),
          }),
          channels: channels.map((info, k) => ({ ...info, load: () => Promise.resolve(columns[k]!) })),
          // Bound below, once the tables have their ids.
          revisions: {},
        }),
      )
    }
    const renumber = (places: readonly string[]): string[] => places.flatMap((place) => ids[Number(place)] ?? [])
    if (fields.mixture) {
      await store.models.jobs.update(
        {
          data: {
            ...withoutTitle(fields),
            mixture: {
              ...fields.mixture,
              runsLeftOut: renumber(fields.mixture.runsLeftOut),
              set: setIds[Number(fields.mixture.set ?? NaN)] ?? null,
            },
          },
        },
        { where: { id }, transaction },
      )
    }
    const tableIds: string[] = []
    for (const { name, cylinder, inForce, table, revisions } of tables) {
      const made = await insertTable(
        store,
        transaction,
        id,
        { name, cylinder, inForce, table },
        revisions.map((one) => ({
          ...one,
          override: one.override ?? null,
          way: one.way ?? null,
          global: one.global ?? 0,
          runs: renumber(one.runs),
        })),
      )
      tableIds.push(made)
    }
    for (const [k, { run }] of runs.entries()) {
      const bound = Object.entries(run.revisions ?? {}).flatMap(([place, n]) =>
        tables[Number(place)]?.revisions.some((one) => one.n === n) ? [[tableIds[Number(place)]!, n] as const] : [],
      )
      if (bound.length)
        await store.models.runs.update(
          { revisions: Object.fromEntries(bound) },
          { where: { id: ids[k]! }, transaction },
        )
    }
    const bookIds = archived.entries.map(() => randomUUID() as string)
    // Newest first in the archive; written as they came.
    for (const [k, { at, act, text, kind = 'act', run, rpm = null, load = null }] of [
      ...archived.entries.entries(),
    ].reverse()) {
      const photo = photos[k] ?? null
      await insertEntry(
        store,
        transaction,
        id,
        {
          id: bookIds[k]!,
          at,
          act,
          text,
          kind,
          run: run == null ? null : (ids[Number(run)] ?? null),
          rpm,
          load,
          photo: photo && photo.type,
        },
        photo && photo.data,
      )
    }
    for (const { id: line, at, ...data } of archived.complaints ?? [])
      await insertLine(store, transaction, id, 'complaint', { id: line, at, data })
    for (const { id: line, at, ...data } of archived.rig ?? [])
      await insertLine(store, transaction, id, 'rig', { id: line, at, data })
    for (const { id: line, at, ...data } of archived.putBack ?? []) {
      const shown = archived.entries.findIndex((one) => data.photo && one.photo?.file === photoFile(data.photo))
      const photo = bookIds[shown] ?? null
      const told = data.photo === undefined ? data : { ...data, photo }
      await insertLine(store, transaction, id, 'put-back', { id: line, at, data: told })
    }
    for (const { id: line, at, ...data } of archived.passes ?? []) {
      const own = { ...data, run: ids[Number(data.run ?? NaN)] ?? null, set: setIds[Number(data.set ?? NaN)] ?? null }
      await insertLine(store, transaction, id, 'pass', { id: line, at, data: own })
    }
    for (const { n, at, report } of archived.reports ?? [])
      await store.models.reports.create({ jobId: id, n, at, data: report }, { transaction })
    await writeEntry(store, transaction, id, 'job read from an archive', fields.title)
    await writeLines(store, transaction, id, lines)
    return id
  })
}

/** What of an archive can hurt: judged as it is read, whoever wrote it. */
function archiveDangers(
  { job, runs }: ArchivedJob,
  tables: readonly (Omit<ArchivedJob['tables'][number], 'table'> & { table: Table })[],
): Danger[] {
  const { mixture = DEFAULT_MIXTURE, jetting } = job
  return [
    ...tables.flatMap(({ name, table, revisions }, place) =>
      historyDangers(
        table,
        name,
        revisions.map((one) => ({ ...one, values: one.cells, override: one.override ?? null })),
        runs.map((run) => ({
          createdAt: run.createdAt ?? '',
          revision: run.revisions?.[String(place)] ?? null,
        })),
        `tables[${place}].`,
      ),
    ),
    ...leanTargets(null, jobTarget({ mixture, jetting }), 'job.mixture.target'),
  ]
}

function withoutTitle({ title: _title, ...data }: NewJob): Omit<NewJob, 'title'> {
  return data
}
