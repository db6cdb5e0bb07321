import { computed, type Ref } from 'vue'
import {
  answerChange,
  changeQuestion,
  setsFuel,
  type ChangeLimits,
  type SuggestedChange,
  type TableInfo,
} from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { loader } from '@/job/loader'
import { useQuestion } from '@/job/useQuestion'
import { fieldWorker } from '@/workers/connect'
import { useField } from '@/workers/useField'

/** The change that is suggested of a table, and what it rests on. */
export function useChange(info: Ref<TableInfo | null>, limits: Ref<ChangeLimits>, connect = fieldWorker) {
  const open = useJob()
  const { question: asked, fault } = useQuestion(
    (ground) =>
      info.value && setsFuel(info.value.table) ? changeQuestion(ground, loader, { table: info.value }) : null,
    () => info.value,
  )
  /** What is asked of the table as it is; null until its older states are here. */
  const question = computed(() => {
    const { table, latest } = asked.value ?? {}
    return info.value && table?.id === info.value.id && latest === info.value.revisions.at(-1)!.n ? asked.value : null
  })
  const { field, problem, slow, cancel } = useField(
    () => open.job!.id,
    computed(() => asked.value?.field ?? null),
    connect,
  )
  const suggestion = computed<{ change: SuggestedChange | null; fault: string }>(() => {
    if (!question.value || !field.value) return { change: null, fault: '' }
    try {
      return { change: answerChange(question.value, field.value, limits.value), fault: '' }
    } catch (error) {
      return { change: null, fault: (error as Error).message }
    }
  })
  return {
    question,
    field,
    suggested: computed(() => suggestion.value.change),
    /** tables that moved since; null until their older states are here */
    since: computed(() => question.value?.since ?? null),
    /** Tables of which it cannot be told on which state the runs were made: asked before anything is suggested. */
    untold: computed(() => asked.value?.untold ?? []),
    problem: computed(() => fault.value || problem.value || suggestion.value.fault),
    slow,
    cancel,
  }
}
