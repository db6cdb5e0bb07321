import { wrap, type Remote } from 'comlink'
import { onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'
import { isLeftOut, type Filters, type LoadGrid, type RunInfo } from '@yuzumix/core'
import type { HeldSpan, RunsWorker } from '@/workers/runs.worker'
import { askFor, sendRuns } from '@/workers/sendRuns'

interface Asked {
  sets: { id: string; runs: RunInfo[] }[]
  grid: LoadGrid
  filters: Filters
}

/** Held zones of several sets, by set, for comparing setups. */
export function useHeldZones(job: () => string, asked: Ref<Asked>) {
  const zones = shallowRef<Record<string, HeldSpan[]>>({})
  const busy = ref(false)
  const problem = ref('')
  const sent = new Set<string>()
  const worker = new Worker(new URL('../../../workers/runs.worker.ts', import.meta.url), { type: 'module' })
  const remote: Remote<RunsWorker> = wrap<RunsWorker>(worker)
  let round = 0

  watch(
    asked,
    async ({ sets, grid, filters }) => {
      const mine = ++round
      busy.value = true
      try {
        const choice = JSON.parse(JSON.stringify({ grid, filters, lag: null })) as Parameters<RunsWorker['held']>[1]
        const found: Record<string, HeldSpan[]> = {}
        for (const { id, runs } of sets) {
          const counted = runs.filter((run) => !isLeftOut(run))
          const wanted = (): boolean => mine === round
          await sendRuns(
            job(),
            counted,
            'curves',
            sent,
            (key, run) => remote.addRun(key, run),
            () => undefined,
            wanted,
          )
          if (!wanted()) return
          found[id] = await remote.held(askFor(counted), choice)
        }
        if (mine === round) [zones.value, problem.value] = [found, '']
      } catch (error) {
        if (mine === round) problem.value = (error as Error).message
      } finally {
        if (mine === round) busy.value = false
      }
    },
    { immediate: true },
  )
  onScopeDispose(() => {
    round++
    worker.terminate()
  })
  return { zones, busy, problem }
}
