import { computed, shallowRef, watch } from 'vue'
import { nameOfScript, type RunScript } from '@yuzumix/core'
import type { Bench } from './useBench'

/** °C from which an engine is warm enough to be loaded, and that it is warmed to. */
const WARM = 75
const WARM_TO = 80
/** °C above which the next run waits. */
const HOT = 102

/** Runs one script after the other: warmed up first, cooled between, given up as soon as a run is stopped. */
export function useRunQueue(bench: Bench) {
  const waiting = shallowRef<RunScript[]>([])
  const total = shallowRef(0)
  const isRunning = computed(() => waiting.value.length > 0)
  /** Started and not yet seen to run. */
  let starting = false

  function next(): void {
    const [script, ...rest] = waiting.value
    if (!script || starting || bench.isBusy.value || !bench.isDriving.value) return
    if ((bench.sample.value?.coolant ?? 0) > HOT) return
    starting = true
    bench.run(script)
    waiting.value = rest.length ? [script, ...rest] : [script]
  }
  watch([() => bench.isBusy.value, () => bench.news.value?.stopped], ([busy, stopped], [was]) => {
    if (busy) starting = false
    if (busy || !was || !isRunning.value) return
    // A run ended: the one at the head is done, unless it was stopped.
    waiting.value = stopped ? [] : waiting.value.slice(1)
    next()
  })
  watch(bench.isDriving, (driving) => !driving && (waiting.value = []))
  watch(bench.refused, (refused) => {
    if (!refused || !starting) return
    starting = false
    waiting.value = []
  })
  watch(
    () => (bench.sample.value?.coolant ?? 0) > HOT,
    (hot) => !hot && next(),
  )

  return {
    isRunning,
    left: computed(() => waiting.value.length),
    total,
    /** what runs or waits first, in words */
    head: computed(() => (waiting.value[0] ? nameOfScript(waiting.value[0]) : '')),
    start(scripts: readonly RunScript[]) {
      const cold = (bench.sample.value?.coolant ?? 0) < WARM
      waiting.value = [...(cold ? [{ kind: 'warm-up', coolantC: WARM_TO } as const] : []), ...scripts]
      total.value = waiting.value.length
      next()
    },
    /** Gives up what waits, and stops what runs. */
    stop() {
      waiting.value = []
      bench.stop()
    },
  }
}

export type RunQueue = ReturnType<typeof useRunQueue>
