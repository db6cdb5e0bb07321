import { strToU8, Zip, ZipDeflate, ZipPassThrough } from 'fflate'
import type { Writable } from 'node:stream'
import { finished } from 'node:stream/promises'
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
import { toFloats } from '../store/floats'
import { readChannel } from '../store/columns'
import { listRuns } from '../store/runs'
import { listSets } from '../store/sets'
import { listTables } from '../store/tables'
import { photoFile } from './photoFile'

const ROWS_AT_ONCE = 20_000

/** Shortest decimal that reads back as the same float32; empty for no reading. */
function floatText(value: number): string {
  if (Number.isNaN(value)) return ''
  for (let digits = 6; digits <= 9; digits++) {
    const text = value.toPrecision(digits)
    if (Math.fround(Number(text)) === value) return String(Number(text))
  }
  return String(value)
}

/** Writes a job with all it holds as one zip: job.json, and a CSV per run. */
export async function packJob(store: Store, job: Job, out: Writable): Promise<void> {
  const { id, createdAt: _made, runCount: _runs, tableCount: _tables, ...fields } = job
  const [sets, runs, tables, entries, complaints, rig, putBack, passes, reports] = await Promise.all([
    listSets(store, id),
    listRuns(store, id),
    listTables(store, id),
    listEntries(store, id, null),
    listComplaints(store, id),
    listLines<StoredRigLine>(store, id, 'rig'),
    listPutBack(store, id),
    keptPasses(store, id),
    store.models.reports.findAll({ where: { jobId: id }, order: [['n', 'ASC']] }),
  ])
  const place = new Map(runs.map((run, k) => [run.id, k]))
  const tablePlace = new Map(tables.map((table, k) => [table.id, k]))
  const setPlace = new Map(sets.map((set, k) => [set.id, k]))
  const { mixture } = fields
  const renumber = (ids: readonly string[]): string[] =>
    ids.flatMap((one) => (place.has(one) ? [String(place.get(one))] : []))
  const zip = new Zip((error, data) => {
    if (error) out.destroy(error)
    else out.write(data)
  })
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
  }
  addFile(zip, 'job.json', (push) => push(JSON.stringify(content, null, 1)))
  for (const entry of entries) {
    const found = entry.photo && (await findPhoto(store, id, entry.id))
    if (!found) continue
    // A photo is packed already.
    const file = new ZipPassThrough(photoFile(entry.id))
    zip.add(file)
    file.push(found.data, true)
    if (out.writableNeedDrain) await new Promise((resolve) => out.once('drain', resolve))
  }
  for (const [k, run] of runs.entries()) {
    const columns = await Promise.all(
      run.channels.map(async ({ channel }) => toFloats((await readChannel(store, run.id, channel))!)),
    )
    const file = new ZipDeflate(content.runs[k]!.file, { level: 6 })
    zip.add(file)
    file.push(
      strToU8(`${run.channels.map((one) => (one.unit ? `${one.channel} (${one.unit})` : one.channel)).join(',')}\n`),
    )
    for (let from = 0; from < run.samples; from += ROWS_AT_ONCE) {
      const lines: string[] = []
      for (let i = from; i < Math.min(run.samples, from + ROWS_AT_ONCE); i++)
        lines.push(columns.map((column) => floatText(column[i]!)).join(','))
      file.push(strToU8(`${lines.join('\n')}\n`))
      if (out.writableNeedDrain) await new Promise((resolve) => out.once('drain', resolve))
    }
    file.push(new Uint8Array(0), true)
  }
  zip.end()
  out.end()
  await finished(out)
}

function omitTable({ tableId: _table, ...revision }: RevisionRow): Omit<RevisionRow, 'tableId'> {
  return revision
}

function addFile(zip: Zip, name: string, write: (push: (text: string) => void) => void): void {
  const file = new ZipDeflate(name, { level: 6 })
  zip.add(file)
  write((text) => file.push(strToU8(text)))
  file.push(new Uint8Array(0), true)
}
