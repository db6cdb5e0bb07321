import { computed, ref } from 'vue'
import { responseQuestion, type RunInfo } from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { useQuestion } from '@/job/useQuestion'
import { questionWorker } from '@/workers/connect'
import { useAnswer } from '@/workers/useAnswer'

/** Everything the response stage knows: runs of the set looked at, and what they come to. */
export function useResponse(connect = questionWorker) {
  const open = useJob()
  /** another set to hold it against, as it was before; empty for none */
  const against = ref('')
  /** riding mode looked at; null for the one most run in */
  const mode = ref<number | null>(null)
  const asked = (set: () => string | undefined) =>
    useQuestion(
      (ground) => (set() === undefined ? null : responseQuestion(ground, { set: set(), mode: mode.value })),
      () => [set(), mode.value],
    )
  const now = asked(() => open.set?.id)
  const before = asked(() => (against.value && against.value !== open.set?.id ? against.value : undefined))
  const job = (): string => open.job!.id
  const { answer: response, ...work } = useAnswer(job, 'response', now.question, connect)
  const earlier = useAnswer(job, 'response', before.question, connect)
  const runs = computed<RunInfo[]>(() => now.question.value?.runs ?? [])

  const { busy, slow, loaded, cancel } = work
  return {
    runs,
    response,
    earlier: earlier.answer,
    against,
    mode,
    problem: computed(() => now.fault.value || before.fault.value || work.problem.value || earlier.problem.value),
    working: { busy, slow, loaded, cancel },
  }
}

export type ResponseState = ReturnType<typeof useResponse>
