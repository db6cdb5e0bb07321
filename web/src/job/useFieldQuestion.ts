import { computed, ref, type Ref } from 'vue'
import { fieldQuestion, type RunInfo } from '@yuzumix/core'
import { loader } from './loader'
import { useJob } from './openJob'
import { useQuestion } from './useQuestion'

/** What the open job's field is worked out from, as the job has chosen it. */
export function useFieldQuestion(method: Ref<'solve' | 'nearest'> = ref('solve')) {
  const open = useJob()
  const { question, fault } = useQuestion(
    (ground) => fieldQuestion(ground, loader, { method: method.value }),
    () => method.value,
  )
  /** Runs that make it, as the job has them. */
  const runs = computed<RunInfo[]>(() => {
    const ids = new Set(question.value?.runs.map((run) => run.id))
    return open.runs.filter((run) => ids.has(run.id))
  })
  return { question, runs, options: computed(() => question.value?.options ?? null), fault }
}
