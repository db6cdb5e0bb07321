import type { Store } from './database'
import type { RigMemory } from '../rigs/rigMemory'

/** What a machine's simulated rig remembers in this job; null when it was never there. */
export async function loadRigMemory(store: Store, jobId: string, machine: string): Promise<RigMemory | null> {
  const row = await store.models.rigs.findOne({ where: { jobId, machine } })
  return row?.get().memory ?? null
}

export async function saveRigMemory(store: Store, jobId: string, machine: string, memory: RigMemory): Promise<void> {
  await store.act((transaction) => store.models.rigs.upsert({ jobId, machine, memory }, { transaction }))
}

/** Whether any machine's simulated rig keeps other contents in this job than it had first. */
export async function hasKeptChange(store: Store, jobId: string): Promise<boolean> {
  const rows = await store.models.rigs.findAll({ where: { jobId } })
  return rows.some((row) => {
    const { first, kept } = row.get().memory
    return JSON.stringify(first) !== JSON.stringify(kept)
  })
}
