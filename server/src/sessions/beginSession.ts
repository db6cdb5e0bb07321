import { Refusal } from '@yuzumix/core'
import type { Store } from '../store/database'
import { writeEntry } from '../store/entries'
import type { Benches } from './benches'
import type { BenchSession } from './session'

/**
 * Connects a session to its job, and says so in its logbook.
 *
 * @throws Refusal 'not-found' where the job was deleted meanwhile: its rig is let go again
 */
export async function beginSession(store: Store, benches: Benches, session: BenchSession): Promise<BenchSession> {
  await benches.connect(session)
  const { job, link } = session
  try {
    await store.act(async (transaction) => {
      if (!(await store.models.jobs.findOne({ where: { id: job, deletedAt: null }, transaction })))
        throw new Refusal('not-found', 'The job was deleted meanwhile. No bench was connected.')
      await writeEntry(store, transaction, job, 'bench connected', link.name)
    })
  } catch (error) {
    if (benches.of(job) === session) await benches.disconnect(job)
    throw error
  }
  return session
}
