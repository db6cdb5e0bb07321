import { shallowRef, watch, type Ref } from 'vue'
import { isLeftOut, type Filters, type LoadGrid, type RunInfo } from '@yuzumix/core'
import { runsWorker } from '@/workers/connect'
import type { HeldSpan } from '@/workers/runs.worker'
import { plainCopy, useRunWorker } from '@/workers/useRunWorker'

interface Asked {
  sets: { id: string; runs: RunInfo[] }[]
  grid: LoadGrid
  filters: Filters
}

/** Held zones of several sets, by set, for comparing setups. */
export function useHeldZones(job: () => string, asked: Ref<Asked>, connect = runsWorker) {
  const zones = shallowRef<Record<string, HeldSpan[]>>({})
  const { run, cancel, busy, slow, problem } = useRunWorker(connect, job, 'curves')
  watch(
    asked,
    ({ sets, grid, filters }) =>
      run(async ({ send, ask }) => {
        const choice = plainCopy({ grid, filters, lag: null })
        const found: Record<string, HeldSpan[]> = {}
        for (const { id, runs } of sets) {
          const own = plainCopy(runs.filter((one) => !isLeftOut(one)))
          await send(own)
          found[id] = await ask((worker) => worker.held(own, choice))
        }
        zones.value = found
      }),
    { immediate: true },
  )
  return { zones, busy, slow, problem, cancel }
}
