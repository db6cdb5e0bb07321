import type { Report, SavedReport } from '@yuzumix/core'
import type { Store } from './database'
import { writeEntry } from './entries'

/** Reports of a job that were saved, oldest first. */
export async function listReports(store: Store, jobId: string): Promise<SavedReport[]> {
  const rows = await store.models.reports.findAll({ where: { jobId }, order: [['n', 'ASC']], attributes: ['n', 'at'] })
  return rows.map((row) => ({ n: row.get().n, at: row.get().at }))
}

/** A report as it was saved; null when there is none of that number. */
export async function findReport(store: Store, jobId: string, n: number): Promise<Report | null> {
  const row = await store.models.reports.findOne({ where: { jobId, n } })
  return row && (row.get().data as Report)
}

/** Saves a report as the next revision; earlier ones stay. */
export function saveReport(store: Store, jobId: string, report: Report): Promise<SavedReport> {
  return store.act(async (transaction) => {
    const n = Number((await store.models.reports.max('n', { where: { jobId }, transaction })) ?? 0) + 1
    const at = new Date().toISOString()
    await store.models.reports.create({ jobId, n, at, data: { ...report, n, at } }, { transaction })
    await writeEntry(store, transaction, jobId, 'report saved', `report ${n}`)
    return { n, at }
  })
}
