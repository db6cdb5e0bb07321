import { computed } from 'vue'
import { doneRuns, jobPlan, tickPlan } from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import type { Bench } from './useBench'

/** The job's run plan (or the usual one for what is on the drum), and how often each step was run in the newest set. */
export function usePlanTicks(bench: Bench) {
  const open = useJob()
  const plan = computed(() =>
    jobPlan({ job: open.job!, runs: open.runs, tables: open.tables, redline: bench.state.value?.redline }),
  )
  const ticks = computed(() => {
    const done = doneRuns(open.runs, open.sets, open.sets.at(-1)?.id ?? null)
    return new Map(tickPlan(plan.value.steps, done).map((one) => [one.key, one]))
  })
  const leftOf = (key: string, repeats: number): number => ticks.value.get(key)?.left ?? repeats
  return { plan, leftOf }
}
