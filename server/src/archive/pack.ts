import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { JOB_FORMAT, runFieldsOf, type ArchivedJob, type Job } from '@yuzumix/core'
import type { Store } from '../store/database'
import { listComplaints } from '../acts/handling/complaints'
import { keptPasses } from '../acts/handling/passes'
import { listPutBack } from '../acts/handling/putBack'
import type { StoredRigLine } from '../acts/handling/rigLines'
import type { Photo } from '../intake/photo'
import { findPhoto, listEntries } from '../store/entries'
import { listLines } from '../store/lines'
import type { RevisionRow } from '../store/models'
import { readChannel } from '../store/columns'
import { listRuns } from '../store/runs'
import { listSets } from '../store/sets'
import { listTables } from '../store/tables'
import { findTraining } from '../store/trainings'
import { photoFile } from './photoFile'

/** What an archive is packed from: job.json, and the files that lie beside it. */
export interface PackedJob {
  job: string
  photos: { file: string; path: string }[]
  runs: { file: string; channels: { channel: string; unit: string }[]; samples: number; spills: string[] }[]
}

/**
 * Gathers a job with all it holds for one zip: job.json, and a CSV per run.
 *
 * @param folder that columns and photos are laid into
 * @param signal that ends it
 */
export async function gatherJob(store: Store, job: Job, folder: string, signal: AbortSignal): Promise<PackedJob> {
  const { id, createdAt: _made, runCount: _runs, tableCount: _tables, ...fields } = job
  const [sets, runs, tables, entries, complaints, rig, putBack, passes, reports, rigs, training] = await Promise.all([
    listSets(store, id),
    listRuns(store, id),
    listTables(store, id),
    listEntries(store, id, null),
    listComplaints(store, id),
    listLines<StoredRigLine>(store, id, 'rig'),
    listPutBack(store, id),
    keptPasses(store, id),
    store.models.reports.findAll({ where: { jobId: id }, order: [['n', 'ASC']] }),
    store.models.rigs.findAll({ where: { jobId: id }, order: [['machine', 'ASC']] }),
    findTraining(store, id),
  ])
  const place = new Map(runs.map((run, k) => [run.id, k]))
  const tablePlace = new Map(tables.map((table, k) => [table.id, k]))
  const setPlace = new Map(sets.map((set, k) => [set.id, k]))
  const { mixture } = fields
  const renumber = (ids: readonly string[]): string[] =>
    ids.flatMap((one) => (place.has(one) ? [String(place.get(one))] : []))
  const rows = await store.models.runs.findAll({
    where: { jobId: id, removed: false },
    order: [['position', 'ASC']],
    attributes: ['id', 'digest'],
  })
  const digests = new Map(rows.map((row) => [row.get().id, row.get().digest]))
  const content: ArchivedJob = {
    format: JOB_FORMAT,
    job: {
      ...fields,
      mixture: {
        ...mixture,
        runsLeftOut: renumber(mixture.runsLeftOut),
        set: mixture.set && setPlace.has(mixture.set) ? String(setPlace.get(mixture.set)) : null,
      },
    },
    sets: sets.map(({ id: _id, job: _job, runCount: _count, createdAt: _at, ...set }) => set),
    runs: runs.map((run, k) => ({
      ...runFieldsOf(run),
      channels: run.channels,
      set: setPlace.get(run.set)!,
      revisions: Object.fromEntries(
        Object.entries(run.revisions).flatMap(([table, n]) =>
          tablePlace.has(table) ? [[String(tablePlace.get(table)), n]] : [],
        ),
      ),
      digest: digests.get(run.id)!,
      file: `runs/${String(k + 1).padStart(3, '0')}.csv`,
    })),
    tables: await Promise.all(
      tables.map(async ({ id: tableId, name, cylinder, inForce, table }) => {
        const revisions = await store.models.revisions.findAll({ where: { tableId }, order: [['n', 'ASC']] })
        return {
          name,
          cylinder,
          inForce,
          table,
          revisions: revisions.map((row) => ({ ...omitTable(row.get()), runs: renumber(row.get().runs) })),
        }
      }),
    ),
    entries: entries.map(({ id: entry, run, photo, ...line }) => ({
      ...line,
      run: run !== null && place.has(run) ? String(place.get(run)) : null,
      photo: photo === null ? null : { type: photo as Photo['type'], file: photoFile(entry) },
    })),
    complaints,
    rig: rig.map(({ data, ...line }) => ({ ...line, ...data })),
    putBack,
    passes: passes.map((one) => ({
      ...one,
      run: one.run !== null && place.has(one.run) ? String(place.get(one.run)) : null,
      set: one.set !== null && setPlace.has(one.set) ? String(setPlace.get(one.set)) : null,
    })),
    reports: reports.map((row) => ({ n: row.get().n, at: row.get().at, report: row.get().data })),
    rigs: rigs.map((row) => ({ machine: row.get().machine, memory: row.get().memory })),
    training: training && { caseId: training.caseId, createdAt: training.createdAt, ...training.data },
  }
  const packed: PackedJob = { job: JSON.stringify(content, null, 1), photos: [], runs: [] }
  for (const entry of entries) {
    const found = entry.photo && (await findPhoto(store, id, entry.id))
    if (!found) continue
    const path = join(folder, `${entry.id}.photo`)
    await writeFile(path, found.data)
    packed.photos.push({ file: photoFile(entry.id), path })
  }
  for (const [k, run] of runs.entries()) {
    const spills: string[] = []
    for (const [c, { channel }] of run.channels.entries()) {
      signal.throwIfAborted()
      const path = join(folder, `${k}-${c}.f32`)
      await writeFile(path, (await readChannel(store, run.id, channel))!)
      spills.push(path)
    }
    packed.runs.push({ file: content.runs[k]!.file, channels: run.channels, samples: run.samples, spills })
  }
  return packed
}

function omitTable({ tableId: _table, ...revision }: RevisionRow): Omit<RevisionRow, 'tableId'> {
  return revision
}
