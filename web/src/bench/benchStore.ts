import { defineStore } from 'pinia'
import { effectScope, shallowRef, watch } from 'vue'
import { notifyProblem } from '@/api/notify'
import { useBench, type Bench } from './useBench'
import { useRunQueue, type RunQueue } from './useRunQueue'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'

/** The bench of the job that is open: joined once, and there on every page. */
export const useJobBench = defineStore('bench', () => {
  const open = useJob()
  const handling = useHandling()
  const bench = shallowRef<Bench | null>(null)
  const queue = shallowRef<RunQueue | null>(null)
  let scope: ReturnType<typeof effectScope> | null = null
  watch(
    () => open.job?.id,
    (id) => {
      scope?.stop()
      ;[bench.value, queue.value, scope] = [null, null, null]
      if (!id) return
      scope = effectScope(true)
      scope.run(() => {
        const mine = useBench(id, () => void open.reloadRuns().catch(notifyProblem))
        bench.value = mine
        queue.value = useRunQueue(mine)
        void mine.join()
      })
    },
    { immediate: true },
  )
  // Another window connected a rig, wrote to it, or let it go.
  watch(
    () => handling.heard.bench,
    () => void (bench.value?.connection.value === 'none' ? bench.value.join() : bench.value?.look()),
  )
  return { bench, queue }
})
