import { defineStore } from 'pinia'
import { ref, watch } from 'vue'
import { useJob } from './openJob'

/** A place that somebody looks at, and goes on looking at on another stage: a cell of the field, a run. */
export const useLookedAt = defineStore('lookedAt', () => {
  const open = useJob()
  const cell = ref<{ rpm: number; load: number } | null>(null)
  const run = ref<string | null>(null)
  watch(
    () => open.job?.id,
    () => ([cell.value, run.value] = [null, null]),
  )
  return { cell, run }
})
