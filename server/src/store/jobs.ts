import { randomUUID } from 'node:crypto'
import { QueryTypes, type Transaction } from 'sequelize'
import {
  DEFAULT_MIXTURE,
  DEFAULT_POWER,
  JOB_PARTS,
  Refusal,
  USUAL_GAUGE_SCALE,
  type GateLine,
  type Job,
  type JobChange,
  type NewJob,
} from '@yuzumix/core'
import type { Store } from './database'
import { writeEntry, writeLines } from './entries'
import type { JobRow } from './models'

function toJob(row: JobRow, counts: { runs: number; tables: number }): Job {
  return {
    gaugeScale: USUAL_GAUGE_SCALE,
    mixture: DEFAULT_MIXTURE,
    power: DEFAULT_POWER,
    ...(row.data as Partial<Job>),
    id: row.id,
    title: row.title,
    archived: Boolean(row.archived),
    createdAt: row.createdAt,
    runCount: counts.runs,
    tableCount: counts.tables,
  }
}

async function countBy(store: Store, table: 'runs' | 'tables'): Promise<Map<string, number>> {
  const where = table === 'runs' ? 'WHERE removed = 0' : ''
  const rows = await store.sequelize.query<{ jobId: string; n: number }>(
    `SELECT jobId, COUNT(*) AS n FROM ${table} ${where} GROUP BY jobId`,
    { type: QueryTypes.SELECT },
  )
  return new Map(rows.map((row) => [row.jobId, row.n]))
}

/** Stores a job in the transaction given. */
export async function createJobRow(
  store: Store,
  transaction: Transaction,
  { title, override: _override, ...data }: NewJob,
): Promise<string> {
  const id = randomUUID()
  await store.models.jobs.create(
    { id, title, data, archived: false, createdAt: new Date().toISOString(), deletedAt: null },
    { transaction },
  )
  return id
}

/** @param lines what the gate let pass */
export async function createJob(store: Store, job: NewJob, lines: readonly GateLine[] = []): Promise<Job> {
  const id = await store.act(async (transaction) => {
    const made = await createJobRow(store, transaction, job)
    await writeEntry(store, transaction, made, 'job made', job.title)
    await writeLines(store, transaction, made, lines)
    return made
  })
  return jobThere(store, id)
}

/** All jobs, newest first; archived ones after the others. */
export async function listJobs(store: Store): Promise<Job[]> {
  const [rows, runs, tables] = await Promise.all([
    store.models.jobs.findAll({
      where: { deletedAt: null },
      order: [
        ['archived', 'ASC'],
        ['createdAt', 'DESC'],
      ],
    }),
    countBy(store, 'runs'),
    countBy(store, 'tables'),
  ])
  return rows.map((row) =>
    toJob(row.get(), { runs: runs.get(row.get().id) ?? 0, tables: tables.get(row.get().id) ?? 0 }),
  )
}

export async function findJob(store: Store, id: string): Promise<Job | null> {
  const row = await store.models.jobs.findOne({ where: { id, deletedAt: null } })
  if (!row) return null
  const [runs, tables] = await Promise.all([
    store.models.runs.count({ where: { jobId: id, removed: false } }),
    store.models.tables.count({ where: { jobId: id, removed: false } }),
  ])
  return toJob(row.get(), { runs, tables })
}

/** A job that was there when it was asked for. @throws Refusal 'not-found' where it was deleted meanwhile */
export async function jobThere(store: Store, id: string): Promise<Job> {
  const found = await findJob(store, id)
  if (!found) throw new Refusal('not-found', 'The job was deleted meanwhile.')
  return found
}

/**
 * Changes what is given and leaves the rest; null when there is no such job.
 *
 * @param lines what the gate let pass
 */
export async function changeJob(
  store: Store,
  id: string,
  { title, archived, ...data }: Omit<JobChange, 'override'>,
  lines: readonly GateLine[] = [],
): Promise<Job | null> {
  const found = await store.act(async (transaction) => {
    const row = await store.models.jobs.findByPk(id, { transaction })
    if (!row) return false
    const before = row.get()
    await row.update(
      { title: title ?? before.title, archived: archived ?? before.archived, data: { ...before.data, ...data } },
      { transaction },
    )
    const given = { title, archived, ...data }
    const acts = (Object.keys(given) as (keyof typeof given)[])
      .filter((key) => given[key] !== undefined && key !== 'mixture' && key !== 'power')
      .map((key) => JOB_PARTS[key])
    if (archived !== undefined && archived !== Boolean(before.archived))
      await writeEntry(store, transaction, id, archived ? 'job archived' : 'job taken out of the archive', before.title)
    else if (acts.length) await writeEntry(store, transaction, id, 'job changed', acts.join(', '))
    await writeLines(store, transaction, id, lines)
    return true
  })
  return found ? findJob(store, id) : null
}

/** Changes fields of a job in the transaction of the act that needs them. */
export async function changeJobRow(
  store: Store,
  transaction: Transaction,
  id: string,
  change: Record<string, unknown>,
): Promise<JobRow> {
  const row = (await store.models.jobs.findByPk(id, { transaction }))!
  await row.update({ data: { ...row.get().data, ...change } }, { transaction })
  return row.get()
}

/** Marks a job handed over at a time, or open again. */
export async function markDone(store: Store, id: string, doneAt: string | null): Promise<void> {
  await store.act(async (transaction) => {
    const { title } = await changeJobRow(store, transaction, id, { doneAt })
    await writeEntry(store, transaction, id, doneAt ? 'handed over' : 'reopened', title)
  })
}

/** Deletes a job with all it holds, for good; false when there is none. */
export async function deleteJob(store: Store, id: string): Promise<boolean> {
  return store.act(async (transaction) => (await store.models.jobs.destroy({ where: { id }, transaction })) > 0)
}
