import { computed } from 'vue'
import { planOf } from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import type { Bench } from './useBench'

/** The job's run plan (or the usual one for what is on the drum), and how often each step was run in the newest set. */
export function usePlanTicks(bench: Bench) {
  const open = useJob()
  const told = computed(() => {
    const { job, sets, runs, tables } = open
    const asked = { set: sets.at(-1)?.id ?? null, redline: bench.state.value?.redline }
    return planOf({ job: job!, sets, runs, tables }, asked)
  })
  const ticks = computed(() => new Map(told.value.ticks.map((one) => [one.key, one])))
  const leftOf = (key: string, repeats: number): number => ticks.value.get(key)?.left ?? repeats
  return { plan: computed(() => told.value.plan), leftOf }
}
