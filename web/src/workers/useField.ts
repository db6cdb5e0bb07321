import { transfer, wrap, type Remote } from 'comlink'
import { computed, onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'
import type { Field, FieldOptions, NodeExplanation, RunInfo, RunTrace } from '@yuzumix/core'
import { fetchColumns } from '@/api/client'
import type { FieldWorker } from './field.worker'

const SHOW_PROGRESS_AFTER = 300

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
  let pending = false
  let round = 0

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

  async function send(list: RunInfo[], mine: number): Promise<void> {
    const missing = list.filter((run) => !sent.has(run.id))
    loaded.value = missing.length ? 0 : 1
    for (const [k, run] of missing.entries()) {
      const columns = await fetchColumns(job(), run)
      if (mine !== round) return
      const buffers = [
        columns.time,
        columns.rpm,
        columns.throttle,
        columns.manifold,
        columns.coolant,
        ...columns.lambda,
      ].flatMap((one) => (one ? [one.buffer] : []))
      await start().addRun(transfer(columns, buffers))
      sent.add(run.id)
      loaded.value = (k + 1) / missing.length
    }
  }

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
      const result = await start().solve(
        list.map((run) => run.id),
        structuredCloneable(options.value),
      )
      if (mine !== round) return
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
    if (pending && mine === round) {
      pending = false
      void solve()
    }
  }

  watch([runs, options], () => void solve(), { immediate: true })
  onScopeDispose(() => {
    round++
    worker?.terminate()
  })
  return {
    field,
    problem,
    busy,
    slow,
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
