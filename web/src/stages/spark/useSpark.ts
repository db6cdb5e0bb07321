import { wrap, type Remote } from 'comlink'
import { computed, onScopeDispose, ref, shallowRef, watch } from 'vue'
import { isLeftOut, type RunInfo } from '@yuzumix/core'
import { useJob } from '@/stores/job'
import { askFor, sendRuns } from '@/workers/sendRuns'
import type { FittedBin, SparkWorker } from '@/workers/spark.worker'

/** Bins of the set looked at, in which the advance was stepped, with their fits. */
export function useSpark() {
  const open = useJob()
  const bins = shallowRef<FittedBin[]>([])
  const problem = ref('')
  const busy = ref(false)
  const sent = new Set<string>()
  let round = 0
  const worker = new Worker(new URL('../../workers/spark.worker.ts', import.meta.url), { type: 'module' })
  const remote: Remote<SparkWorker> = wrap<SparkWorker>(worker)
  onScopeDispose(() => {
    round++
    worker.terminate()
  })
  const runs = computed<RunInfo[]>(() =>
    open.runs.filter(
      (run) =>
        run.set === open.set?.id &&
        !isLeftOut(run) &&
        ['spark', 'torque', 'throttle'].every((name) => run.channels.some((one) => one.channel === name)),
    ),
  )
  watch(
    runs,
    async (list) => {
      const mine = ++round
      const current = (): boolean => mine === round
      busy.value = true
      problem.value = ''
      try {
        await sendRuns(
          open.job!.id,
          list,
          'spark',
          sent,
          (key, run) => remote.addRun(key, run),
          () => undefined,
          current,
        )
        const found = current() ? await remote.fits(askFor(list)) : []
        if (current()) bins.value = found
      } catch (error) {
        if (current()) problem.value = (error as Error).message
      } finally {
        if (current()) busy.value = false
      }
    },
    { immediate: true },
  )
  return { bins, runs, problem, busy }
}
