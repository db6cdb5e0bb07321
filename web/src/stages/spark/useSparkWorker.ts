import { wrap, type Remote } from 'comlink'
import { onScopeDispose } from 'vue'
import type { RunInfo, SettingRun } from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { askFor, sendRuns } from '@/workers/sendRuns'
import type { AskedSparkRun, SparkWorker } from '@/workers/spark.worker'

/** The worker of the spark stage; runs are sent once and asked for by name. */
export function useSparkWorker() {
  const open = useJob()
  const sent = new Set<string>()
  let isOver = false
  const worker = new Worker(new URL('../../workers/spark.worker.ts', import.meta.url), { type: 'module' })
  const remote: Remote<SparkWorker> = wrap<SparkWorker>(worker)
  onScopeDispose(() => {
    isOver = true
    worker.terminate()
  })
  /** Sends what is missing. @returns the runs as the worker takes them */
  async function send(runs: readonly RunInfo[], wanted: () => boolean): Promise<AskedSparkRun[]> {
    const current = (): boolean => !isOver && wanted()
    await sendRuns(
      open.job!.id,
      runs,
      'spark',
      sent,
      (key, run) => remote.addRun(key, run),
      () => undefined,
      current,
    )
    return askFor(runs).map((asked, k) => ({ ...asked, run: settingRun(runs[k]!) }))
  }
  return { remote, send }
}

function settingRun({ id, kind, facts, setting, createdAt }: RunInfo): SettingRun {
  return { id, kind, facts, setting, createdAt }
}
