import { openGates, type Danger } from '@yuzumix/core'
import { listRig } from '../acts/handling/rigLines'
import type { Store } from '../store/database'
import { findJob } from '../store/jobs'
import { findTraining } from '../store/trainings'

/** What of the rig list stands between the machine of a job and a run; a case of the trainer has none. */
export async function gatesOf(store: Store, job: string): Promise<Danger[]> {
  const found = await findJob(store, job)
  return found && !(await findTraining(store, job)) ? openGates(await listRig(store, found)) : []
}
