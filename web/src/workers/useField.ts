import { wrap, type Remote } from 'comlink'
import { computed, onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'
import type { Field, FieldOptions, NodeExplanation, RunInfo, RunTrace } from '@yuzumix/core'
import type { FieldWorker } from './field.worker'
import { askFor, sendRuns } from './sendRuns'

const SHOW_PROGRESS_AFTER = 300
/** While something is dragged and whole solves take longer than this (ms), a thinned one is shown first. */
const QUICK_ABOVE = 100
const QUICK_SAMPLES = 7_000
/** Wishes that follow each other within this (ms) are a drag; the whole solve follows once it rests. */
const DRAG_WITHIN = 300

/**
 * The field of some runs, solved anew whenever runs or options change. One solve is under way at a time and only the
 * latest wish waits, so dragging never piles up work; the screen's thread does none of it.
 */
export function useField(job: () => string, runs: Ref<RunInfo[]>, options: Ref<FieldOptions | null>) {
  const field = shallowRef<Field | null>(null)
  const problem = ref('')
  const busy = ref(false)
  const slow = ref(false)
  /** share of the columns that have come */
  const loaded = ref(1)
  const solved = ref(0)
  let worker: Worker | null = null
  let remote: Remote<FieldWorker> | null = null
  const sent = new Set<string>()
  const quick = ref(false)
  let pending = false
  let round = 0
  let wholeTook = 0
  let asked = -Infinity
  let dragging = false
  let rest: ReturnType<typeof setTimeout> | undefined

  function start(): Remote<FieldWorker> {
    worker ??= new Worker(new URL('./field.worker.ts', import.meta.url), { type: 'module' })
    return (remote ??= wrap<FieldWorker>(worker))
  }

  /** Stops what is under way; the next change begins anew. */
  function cancel(): void {
    round++
    worker?.terminate()
    ;[worker, remote] = [null, null]
    sent.clear()
    ;[busy.value, slow.value, pending] = [false, false, false]
    problem.value = 'Stopped. Change a setting or the runs to solve again.'
  }

  const send = (list: RunInfo[], mine: number): Promise<void> =>
    sendRuns(
      job(),
      list,
      'field',
      sent,
      (key, run) => start().addRun(key, run),
      (share) => (loaded.value = share),
      () => mine === round,
    )

  async function solve(): Promise<void> {
    if (busy.value) {
      pending = true
      return
    }
    if (runs.value.length === 0 || !options.value) {
      field.value = null
      return
    }
    busy.value = true
    const mine = round
    const timer = setTimeout(() => (slow.value = mine === round), SHOW_PROGRESS_AFTER)
    try {
      const list = runs.value
      await send(list, mine)
      if (mine !== round) return
      const thin = dragging && wholeTook > QUICK_ABOVE
      const began = performance.now()
      const result = await start().solve(askFor(list), {
        ...structuredCloneable(options.value),
        mostSamples: thin ? QUICK_SAMPLES : null,
      })
      if (mine !== round) return
      if (!thin) wholeTook = performance.now() - began
      quick.value = thin
      field.value = result
      problem.value = ''
      solved.value++
    } catch (error) {
      if (mine !== round) return
      field.value = null
      problem.value = (error as Error).message
    } finally {
      clearTimeout(timer)
      if (mine === round) [busy.value, slow.value] = [false, false]
    }
    if (mine !== round) return
    if (pending) {
      pending = false
      void solve()
    } else if (quick.value) {
      clearTimeout(rest)
      rest = setTimeout(() => {
        dragging = false
        void solve()
      }, DRAG_WITHIN)
    }
  }

  watch(
    [runs, options],
    () => {
      const now = performance.now()
      dragging = now - asked < DRAG_WITHIN
      asked = now
      clearTimeout(rest)
      void solve()
    },
    { immediate: true },
  )
  onScopeDispose(() => {
    round++
    clearTimeout(rest)
    worker?.terminate()
  })
  return {
    field,
    problem,
    busy,
    slow,
    /** what is shown came of thinned readings; the whole follows */
    quick,
    loaded,
    /** counts solves, for those who depend on the worker's latest */
    solved: computed(() => solved.value),
    cancel,
    explain: (cylinder: number, row: number, column: number): Promise<NodeExplanation | null> =>
      start().explain(cylinder, row, column),
    traces: (cylinder: number, row: number): Promise<RunTrace[]> => start().traces(cylinder, row),
  }
}

/** Reactive proxies cannot cross to a worker. */
function structuredCloneable<T>(value: T): T {
  return JSON.parse(JSON.stringify(value)) as T
}
