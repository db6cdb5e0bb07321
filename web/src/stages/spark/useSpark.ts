import { computed } from 'vue'
import { DEFAULT_SPARK_SETTINGS, sparkQuestion, type SparkSettings, setsSpark } from '@yuzumix/core'
import { loader } from '@/job/loader'
import { useJob } from '@/job/openJob'
import { useQuestion } from '@/job/useQuestion'
import { questionWorker } from '@/workers/connect'
import { useAnswer } from '@/workers/useAnswer'

/** Everything the spark stage knows: runs of the set looked at, what they come to, and what was chosen. */
export function useSpark(connect = questionWorker) {
  const open = useJob()
  const settings = computed<SparkSettings>(() => open.job!.spark ?? DEFAULT_SPARK_SETTINGS)
  /** Takes choices now; they are saved when they have come to rest. */
  const choose = (change: Partial<SparkSettings>): void => open.choose({ spark: { ...settings.value, ...change } })

  const { question, fault } = useQuestion(
    (ground) => sparkQuestion(ground, loader, { set: open.set?.id }),
    () => open.set?.id,
  )
  const { answer, problem, busy, slow, cancel } = useAnswer(() => open.job!.id, 'spark', question, connect)
  return {
    settings,
    choose,
    bins: computed(() => answer.value?.bins ?? []),
    mixtures: computed(() => answer.value?.mixtures ?? []),
    proof: computed(() => answer.value?.proof ?? []),
    next: computed(() => answer.value?.next ?? null),
    runs: computed(() => question.value?.runs ?? []),
    sparkTables: computed(() => open.tables.filter((one) => setsSpark(one.table))),
    problem: computed(() => fault.value || problem.value),
    busy,
    slow,
    cancel,
  }
}

export type Spark = ReturnType<typeof useSpark>
