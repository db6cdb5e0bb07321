import { passGate, type Danger } from '@yuzumix/core'
import type { Benches } from '../../sessions/benches'
import type { Store } from '../../store/database'
import { binJob } from '../../store/bin'
import { hasKeptChange } from '../../store/rigs'
import { findTraining } from '../../store/trainings'

/** What a controller keeps of a job when the job that knows its first contents is gone. */
async function keptChange(store: Store, benches: Benches, job: string): Promise<Danger[]> {
  if (await findTraining(store, job)) return []
  const session = benches.of(job)
  const isChanged = session?.link.state().changed ?? (await hasKeptChange(store, job))
  if (!session && !isChanged) return []
  return [
    {
      kind: 'kept change',
      field: 'job',
      text: isChanged
        ? 'The controller holds a change of this job, and its first contents are known here alone. Restore them at the bench first, or say why they stay.'
        : 'A bench is connected to this job. Disconnect it first, or say why the job goes all the same.',
    },
  ]
}

/**
 * Puts a job into the bin with all it holds; its bench is let go.
 *
 * @returns false when there is none
 * @throws what the gate refuses, while its controller is changed or a bench is connected, and nobody says why
 */
export async function deleteJobAsked(
  store: Store,
  benches: Benches,
  job: string,
  override: string | undefined,
): Promise<boolean> {
  passGate(await keptChange(store, benches, job), override)
  await benches.disconnect(job)
  const isBinned = await binJob(store, job)
  // One that was being connected meanwhile.
  await benches.disconnect(job)
  return isBinned
}
