import { Refusal, openLines, type Job, type SavedReport, sentence } from '@yuzumix/core'
import type { Benches } from '../../sessions/benches'
import { jobThere, markDone } from '../../store/jobs'
import { saveReport } from '../../store/reports'
import { listComplaints } from './complaints'
import type { Workshop } from '../questions/ask'
import { listPutBack } from './putBack'
import { reportFor } from '../report/reportFor'

/** Saves the report as it stands as a revision of the job. */
export async function keepReport(workshop: Workshop, job: Job, signal: AbortSignal): Promise<SavedReport> {
  return saveReport(workshop.store, job.id, await reportFor(workshop, job, null, signal))
}

/**
 * Hands a job over, with the report as it stands saved as a revision: it is read-only from then on.
 *
 * @throws Refusal 'not-done' naming what is open
 */
export async function handOver(workshop: Workshop, benches: Benches, job: Job, signal: AbortSignal): Promise<Job> {
  const { store } = workshop
  const [complaints, putBack] = await Promise.all([listComplaints(store, job.id), listPutBack(store, job.id)])
  const open = openLines(complaints, putBack)
  if (benches.of(job.id)) open.push({ field: 'bench', message: 'the bench is still connected' })
  if (open.length) throw new Refusal('not-done', sentence(`Open: ${open.map((one) => one.message).join('; ')}`), open)
  await keepReport(workshop, job, signal)
  await markDone(store, job.id, new Date().toISOString())
  return jobThere(store, job.id)
}

/** Opens a job again. @throws Refusal 'not-done' when it is not handed over */
export async function reopen({ store }: Workshop, job: Job): Promise<Job> {
  if (!job.doneAt) throw new Refusal('not-handed-over', 'The job is open already.')
  await markDone(store, job.id, null)
  return jobThere(store, job.id)
}
