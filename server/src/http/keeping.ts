import { jobsInBackup, restoreJob, restoreStore } from '../acts/keeping/restore'
import type { Workshop } from '../acts/questions/ask'
import { KEEPING, listBackups, makeBackup } from '../folder/backups'
import type { Benches } from '../sessions/benches'
import { bringBack, dropBinned, listBin } from '../store/bin'
import { findJob } from '../store/jobs'
import type { Handlers } from './handlers'

/** Copies of the store, and what was deleted lately. */
export const keepingHandlers = ({ store, pool }: Workshop, benches: Benches) =>
  ({
    backups: () => ({ keeping: KEEPING, backups: listBackups(store.folder) }),
    makeBackup: () => makeBackup(store.folder, 'asked for'),
    backupHeld: async ({ at }) => ({ jobs: await jobsInBackup(store, at.backup) }),
    async restoreBackup({ at, body, gone }) {
      if (body.job !== undefined) return { job: await restoreJob({ store, pool }, at.backup, body.job, gone()) }
      await restoreStore(store, benches, at.backup)
      return { job: null }
    },
    bin: () => listBin(store),
    bringBack: async ({ at }) => ((await bringBack(store, at.binned)) ? findJob(store, at.binned) : null),
    dropBinned: ({ at }) => dropBinned(store, at.binned),
  }) satisfies Partial<Handlers>
