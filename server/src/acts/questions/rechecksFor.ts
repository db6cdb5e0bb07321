import {
  isLeftOut,
  mostRpm,
  rechecks,
  sweepsOfRun,
  type Job,
  type MadeRun,
  type Recheck,
  type RunInfo,
} from '@yuzumix/core'
import type { Store } from '../../store/database'
import { listTables } from '../../store/tables'
import { tableHistories } from '../../store/revisions'

/** What has to be measured again because spark or mixture moved since. */
export async function rechecksFor(store: Store, job: Job, runs: readonly RunInfo[]): Promise<Recheck[]> {
  const made = runs
    .filter((run) => !isLeftOut(run) && run.facts)
    .flatMap(({ kind, facts, channels, createdAt: at }) =>
      sweepsOfRun(kind, facts!).map((one): MadeRun => ({
        kind: one.kind,
        stop: one.facts.stop,
        fromRpm: one.facts.fromRpm,
        toRpm: one.facts.toRpm,
        at,
        tellsMixture: channels.some(({ channel }) => channel === 'lambda1'),
      })),
    )
  const oldest = made.reduce((least, run) => (run.at < least ? run.at : least), new Date().toISOString())
  const most = mostRpm({ job, tables: await listTables(store, job.id) })
  return rechecks(await tableHistories(store, job.id, oldest), made, most)
}
