import { computed, onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'
import { runsNeeded, type Field, type FieldQuestion, type NodeExplanation, type RunTrace } from '@yuzumix/core'
import { fieldWorker } from './connect'
import { plainCopy, useRunWorker } from './useRunWorker'

/** While something is dragged and whole solves take longer than this (ms), a thinned one is shown first. */
const QUICK_ABOVE = 100
const QUICK_SAMPLES = 7_000
/** Wishes that follow each other within this (ms) are a drag; the whole solve follows once it rests. */
const DRAG_WITHIN = 300

/**
 * The field that a question asks for, solved anew whenever the question is another. One solve is under way at a time and only
 * the latest wish waits, so dragging never piles up work; the screen's thread does none of it.
 */
export function useField(job: () => string, question: Ref<FieldQuestion | null>, connect = fieldWorker) {
  const field = shallowRef<Field | null>(null)
  const solved = ref(0)
  const quick = ref(false)
  const work = useRunWorker(connect, job, 'field')
  const key = computed(() => JSON.stringify(question.value))
  let pending = false
  let wholeTook = 0
  let wished = -Infinity
  let dragging = false
  let rest: ReturnType<typeof setTimeout> | undefined

  async function solve(): Promise<void> {
    if (work.busy.value) {
      pending = true
      return
    }
    if (!question.value?.runs.length) {
      field.value = null
      return
    }
    const thin = dragging && wholeTook > QUICK_ABOVE
    const asked = plainCopy(question.value)
    asked.options.mostSamples = thin ? QUICK_SAMPLES : null
    const isDone = await work.run(async ({ send, ask }) => {
      await send(runsNeeded('field', asked))
      const began = performance.now()
      const result = await ask((worker) => worker.solve(asked))
      if (!thin) wholeTook = performance.now() - began
      quick.value = thin
      field.value = result
      solved.value++
    })
    if (!isDone && work.problem.value) field.value = null
    if (pending) {
      pending = false
      void solve()
    } else if (isDone && quick.value) {
      clearTimeout(rest)
      rest = setTimeout(() => {
        dragging = false
        void solve()
      }, DRAG_WITHIN)
    }
  }
  function cancel(): void {
    pending = false
    work.cancel()
  }

  watch(
    key,
    () => {
      const now = performance.now()
      dragging = now - wished < DRAG_WITHIN
      wished = now
      clearTimeout(rest)
      void solve()
    },
    { immediate: true },
  )
  onScopeDispose(() => {
    pending = false
    clearTimeout(rest)
  })
  return {
    field,
    problem: work.problem,
    busy: work.busy,
    slow: work.slow,
    /** what is shown came of thinned readings; the whole follows */
    quick,
    loaded: work.loaded,
    /** counts solves, for those who depend on the worker's latest */
    solved: computed(() => solved.value),
    cancel,
    explain: (cylinder: number, row: number, column: number): Promise<NodeExplanation | null> =>
      work.askLatest((worker) => worker.explain(cylinder, row, column)),
    traces: (cylinder: number, row: number): Promise<RunTrace[]> =>
      work.askLatest((worker) => worker.traces(cylinder, row)),
  }
}
