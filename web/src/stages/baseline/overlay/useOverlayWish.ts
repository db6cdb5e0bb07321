import { computed, type Ref } from 'vue'
import {
  correctSet,
  conditionsOf,
  DEFAULT_CURVE,
  isLeftOut,
  stopsOf,
  type FieldOptions,
  type RunInfo,
  type Stop,
} from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import type { OverlayWish } from '@/workers/useOverlay'

/** Runs of the set looked at, by throttle stop, and how they are to be laid over each other. */
export function useOverlayWish(chosen: Ref<number | 'all' | null | undefined>, field: Ref<FieldOptions | null>) {
  const open = useJob()
  const runs = computed(() => open.runs.filter((run) => run.set === open.set?.id))
  const stops = computed<Stop<RunInfo>[]>(() => stopsOf(runs.value.filter((run) => !isLeftOut(run))))
  /** The stop chosen, else the widest open with three repeats, else the first. */
  const stop = computed(() => {
    if (chosen.value === 'all') return 'all' as const
    const found = stops.value.find((one) => one.stop === chosen.value)
    return (found ?? stops.value.find((one) => one.sweeps >= 3) ?? stops.value[0])?.stop
  })
  const conditions = computed(
    () =>
      open.set &&
      conditionsOf(
        open.set,
        runs.value.map((run) => run.facts),
        '',
      ),
  )
  const correction = computed(() => correctSet(open.job!.power.correction, conditions.value?.weather ?? null))
  const wish = computed<OverlayWish | null>(() => {
    const { set } = open
    if (!set || stops.value.length === 0) return null
    const { mixture, power } = open.job!
    const filters = field.value?.filters ?? DEFAULT_CURVE.filters
    return {
      stops: stop.value === 'all' ? stops.value : stops.value.filter((one) => one.stop === stop.value),
      options: {
        smoothing: power.smoothing,
        lag: mixture.lagMs === null ? DEFAULT_CURVE.lag : mixture.lagMs / 1000,
        filters: { ...filters },
        drum: { inertia: set.inertia, window: set.drumWindow },
        source: set.torqueSource,
      },
      factor: correction.value.factor,
      heldIn: runs.value.filter((run) => !isLeftOut(run)),
      held: field.value && {
        grid: structuredCopy(field.value.grid),
        filters: { ...filters },
        lag: mixture.lagMs === null ? null : mixture.lagMs / 1000,
        hasLoop: field.value.hasLoop,
      },
    }
  })
  return { runs, stops, stop, conditions, correction, wish }
}

/** Reactive proxies cannot cross to a worker. */
function structuredCopy<T>(value: T): T {
  return JSON.parse(JSON.stringify(value)) as T
}
