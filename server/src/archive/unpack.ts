import { randomUUID } from 'node:crypto'
import { readFile } from 'node:fs/promises'
import { passGate, type NewJob } from '@yuzumix/core'
import type { Store } from '../store/database'
import { loadSpill } from '../store/columns'
import { insertEntry, writeEntry, writeLines } from '../store/entries'
import { createJobRow } from '../store/jobs'
import { insertLine } from '../store/lines'
import { insertRun } from '../store/runs'
import { insertSet } from '../store/sets'
import { insertTable } from '../store/tables'
import { photoFile } from './photoFile'
import type { ArchiveRead } from './readArchive'

/**
 * Stores a job from its archive under a new id, all or nothing.
 *
 * @param override why what went far without a reason, or a lean target, is taken all the same
 * @returns the id
 * @throws what the gate refuses when it holds what can hurt and nobody says why
 */
export async function storeArchive(
  store: Store,
  { archived, tables, runs, photos, dangers }: ArchiveRead,
  override: string | undefined,
  signal: AbortSignal,
): Promise<string> {
  const lines = passGate(dangers, override)
  const column = new Float32Array(Math.max(0, ...archived.runs.map((one) => one.samples)))
  return store.act(async (transaction) => {
    const { archived: _was, ...fields } = archived.job
    const id = await createJobRow(store, transaction, fields)
    const ids: string[] = []
    const setIds: string[] = []
    for (const set of archived.sets) setIds.push(await insertSet(store, transaction, id, set))
    for (const [k, run] of archived.runs.entries()) {
      const { channels, file: _file, setting, createdAt, ...fields } = run
      const { spills, duration, facts } = runs[k]!
      signal.throwIfAborted()
      ids.push(
        await insertRun(store, transaction, id, {
          ...fields,
          duration,
          facts,
          set: setIds[run.set]!,
          ...(setting && { setting }),
          ...(createdAt && { createdAt }),
          channels: channels.map((info, c) => ({
            ...info,
            load: () => loadSpill(spills[c]!, 1, column.subarray(0, run.samples)),
          })),
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
    for (const [k, { name, cylinder, inForce, revisions }] of archived.tables.entries()) {
      const made = await insertTable(
        store,
        transaction,
        id,
        { name, cylinder, inForce, table: tables[k]! },
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
    for (const [k, run] of archived.runs.entries()) {
      const bound = Object.entries(run.revisions ?? {}).flatMap(([place, n]) =>
        archived.tables[Number(place)]?.revisions.some((one) => one.n === n)
          ? [[tableIds[Number(place)]!, n] as const]
          : [],
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
      const picture = photo && (await readFile(photo.path))
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
        picture,
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
    for (const {
      machine,
      memory: { ways, ...memory },
    } of archived.rigs ?? [])
      await store.models.rigs.create(
        { jobId: id, machine, memory: { ...memory, ...(ways && { ways }) } },
        { transaction },
      )
    if (archived.training) {
      const { caseId, createdAt, ...data } = archived.training
      await store.models.trainings.create({ jobId: id, caseId, data, createdAt }, { transaction })
    }
    await writeEntry(store, transaction, id, 'job read from an archive', fields.title)
    await writeLines(store, transaction, id, lines)
    return id
  })
}

function withoutTitle({ title: _title, ...data }: NewJob): Omit<NewJob, 'title'> {
  return data
}
