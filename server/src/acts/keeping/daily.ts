import type { Logger } from 'pino'
import { listBackups, makeBackup } from '../../folder/backups'
import { emptyBin } from '../../store/bin'
import type { Store } from '../../store/database'
import { listJobs } from '../../store/jobs'

/** ms between two looks, and age of a daily copy from which the next one is made. */
const [LOOK, DAY] = [3_600_000, 86_400_000]

/** Makes the daily copy where it is due, and lets go what has lain in the bin for its time. */
export async function keepToday(store: Store, now = new Date()): Promise<void> {
  await emptyBin(store, now)
  const last = listBackups(store.folder).find((one) => one.kind === 'daily')
  const isDue = !last || now.getTime() - Date.parse(last.at) >= DAY
  if (isDue && (await listJobs(store)).length > 0) await makeBackup(store.folder, 'daily', now)
}

/** Keeps a store day by day, from its start on. A copy that fails is told in the log and tried again an hour later. */
export function keepDaily(store: Store, log: Logger): { stop(): Promise<void> } {
  let underWay: Promise<unknown> = Promise.resolve()
  const look = (): void =>
    void (underWay = underWay.then(() => keepToday(store)).catch((error: unknown) => log.error(error)))
  look()
  const timer = setInterval(look, LOOK)
  timer.unref()
  return {
    async stop() {
      clearInterval(timer)
      await underWay
    },
  }
}
