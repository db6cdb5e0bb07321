import { wrap, type Remote } from 'comlink'
import { onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'
import type { CurveOptions, Filters, LoadGrid, Overlay, RunInfo, Stop } from '@yuzumix/core'
import type { HeldSpan, RunsWorker } from './runs.worker'
import { askFor, sendRuns } from './sendRuns'

/** Stops to lay over each other, and how. */
export interface OverlayWish {
  stops: Stop<RunInfo>[]
  options: CurveOptions
  factor: number
  /** runs in which held zones are sought */
  heldIn: RunInfo[]
  held: { grid: LoadGrid; filters: Filters; lag: number | null } | null
}

const SHOW_PROGRESS_AFTER = 300

/** The overlays of a wish, worked out anew whenever it changes; only the latest wish counts. */
export function useOverlay(job: () => string, wish: Ref<OverlayWish | null>) {
  const overlays = shallowRef<(Overlay | null)[]>([])
  const held = shallowRef<HeldSpan[]>([])
  const problem = ref('')
  const slow = ref(false)
  const loaded = ref(1)
  const sent = new Set<string>()
  let worker: Worker | null = null
  let remote: Remote<RunsWorker> | null = null
  let round = 0
  let heldFor = ''

  function start(): Remote<RunsWorker> {
    worker ??= new Worker(new URL('./runs.worker.ts', import.meta.url), { type: 'module' })
    return (remote ??= wrap<RunsWorker>(worker))
  }

  /** Stops what is under way; the next choice begins anew. */
  function cancel(): void {
    round++
    worker?.terminate()
    ;[worker, remote] = [null, null]
    sent.clear()
    slow.value = false
    problem.value = 'Stopped. Choose a throttle stop or a set to begin anew.'
  }

  async function work(now: OverlayWish, mine: number): Promise<void> {
    const isWanted = (): boolean => mine === round
    const runs = now.stops.flatMap((one) => one.runs)
    const add = (key: string, run: Parameters<RunsWorker['addRun']>[1]): Promise<void> => start().addRun(key, run)
    const fetchRuns = (some: RunInfo[]): Promise<void> =>
      sendRuns(job(), some, 'curves', sent, add, (share) => (loaded.value = share), isWanted)
    await fetchRuns(runs)
    if (!isWanted()) return
    const stops = now.stops.map(({ stop, runs: some }) => ({ stop, runs: askFor(some) }))
    const result = await start().overlays(stops, now.options, now.factor)
    if (!isWanted()) return
    overlays.value = result
    problem.value = ''
    const key = JSON.stringify([askFor(now.heldIn), now.held])
    if (!now.held || key === heldFor) return
    await fetchRuns(now.heldIn)
    if (!isWanted()) return
    const zones = await start().held(askFor(now.heldIn), now.held)
    if (isWanted()) [held.value, heldFor] = [zones, key]
  }

  watch(
    wish,
    async (now) => {
      const mine = ++round
      if (!now) {
        overlays.value = []
        return
      }
      const timer = setTimeout(() => (slow.value = mine === round), SHOW_PROGRESS_AFTER)
      try {
        await work(now, mine)
      } catch (error) {
        if (mine === round) problem.value = (error as Error).message
      } finally {
        clearTimeout(timer)
        if (mine === round) slow.value = false
      }
    },
    { immediate: true },
  )
  onScopeDispose(() => {
    round++
    worker?.terminate()
  })
  return { overlays, held, problem, slow, loaded, cancel }
}
