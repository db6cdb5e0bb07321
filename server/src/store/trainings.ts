import type { NewJob } from '@yuzumix/core'
import type { Store } from './database'
import { writeEntry } from './entries'
import { createJobRow } from './jobs'
import type { TrainingData, TrainingRow } from './models'

/** Makes a job out of a case of the trainer. @returns its id */
export function createTraining(store: Store, caseId: string, job: NewJob): Promise<string> {
  return store.act(async (transaction) => {
    const jobId = await createJobRow(store, transaction, job)
    const data: TrainingData = { acts: [], unsafe: [], seconds: 0, finished: null }
    await store.models.trainings.create({ jobId, caseId, data, createdAt: new Date().toISOString() }, { transaction })
    await writeEntry(store, transaction, jobId, 'case of the trainer taken', job.title)
    return jobId
  })
}

export async function findTraining(store: Store, jobId: string): Promise<TrainingRow | null> {
  return (await store.models.trainings.findByPk(jobId))?.get() ?? null
}

/** Changes how far a case has come, from what is stored now, with a line in the logbook where something was done. */
export async function changeTraining(
  store: Store,
  jobId: string,
  change: (data: TrainingData) => TrainingData,
  done?: { act: string; text: string },
): Promise<void> {
  await store.act(async (transaction) => {
    const row = await store.models.trainings.findByPk(jobId, { transaction })
    if (!row) return
    await store.models.trainings.update({ data: change(row.get().data) }, { where: { jobId }, transaction })
    if (done) await writeEntry(store, transaction, jobId, done.act, done.text)
  })
}
