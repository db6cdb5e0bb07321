import { computed, ref, shallowRef, watch } from 'vue'
import {
  channelTitle,
  levelsOf,
  type FieldOptions,
  type NamedStretch,
  type RunInfo,
  type SetAsideSpan,
  type StretchChange,
  type RunChange,
  type Span,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { fetchLog } from '@/api/columns'
import { useJob } from '@/job/openJob'
import { useLookedAt } from '@/job/lookedAt'
import { runsWorker } from '@/workers/connect'
import { plainCopy, useRunWorker } from '@/workers/useRunWorker'
import type { Lane } from './drawLog'

const nextFrame = (): Promise<unknown> => new Promise((done) => requestAnimationFrame(() => setTimeout(done)))

/** Channels that a log opens with. */
const FIRST = ['rpm', 'throttle', 'lambda1', 'lambda2', 'speed', 'gear']

/** One run over its seconds: its lanes, its stretches, and what of it does not count. */
export function useLog(options: () => FieldOptions | null) {
  const open = useJob()
  const looked = useLookedAt()
  const chosen = ref<string | null>(looked.run)
  looked.run = null
  const run = computed<RunInfo | null>(
    () => open.runs.find((one) => one.id === chosen.value) ?? open.runs.at(-1) ?? null,
  )
  const time = shallowRef<Float32Array>(new Float32Array(0))
  const lanes = shallowRef<Omit<Lane, 'figure'>[]>([])
  const shown = ref<string[]>([])
  const shaded = shallowRef<SetAsideSpan[]>([])
  /** when it fed each cell of the field */
  const fed = shallowRef<Span[][][] | null>(null)
  const stretches = shallowRef<NamedStretch[]>([])
  const view = shallowRef<Span>({ from: 0, to: 1 })
  const whole = shallowRef<Span>({ from: 0, to: 1 })
  const problem = ref('')
  const busy = ref(false)
  let round = 0

  /** Lanes of some columns, in the order of the run's channels. */
  const lanesOf = (now: RunInfo, columns: ReadonlyMap<string, Float32Array>): Omit<Lane, 'figure'>[] =>
    now.channels.flatMap(({ channel, unit, min, max, header }) => {
      const values = columns.get(channel)
      const title = channelTitle(channel, header)
      return values && channel !== 'time'
        ? [{ channel, title, unit, levels: levelsOf(values), least: min, most: max }]
        : []
    })

  /** What does not count, and what fed the field: worked out beside the interface, for hours of rows. */
  const { run: work, problem: untold } = useRunWorker(runsWorker, () => open.job!.id, 'field')
  const countWhat = (now: RunInfo): Promise<boolean> =>
    work(async ({ send, ask }) => {
      const asked = options()
      if (!asked) return
      const { grid, lag, filters } = plainCopy(asked)
      const own = plainCopy(now)
      await send([own])
      const counted = await ask((worker) => worker.counted(own, grid, lag ?? 0, filters))
      ;[shaded.value, fed.value] = [counted.setAside, counted.fed]
    })

  async function load(now: RunInfo): Promise<void> {
    const mine = ++round
    ;[busy.value, problem.value] = [true, '']
    try {
      const channels = now.channels.map((one) => one.channel)
      const usual = FIRST.filter((channel) => channels.includes(channel))
      const first = usual.length ? usual : channels.filter((channel) => channel !== 'time').slice(0, 4)
      // What is seen first is fetched first: two hours of twenty columns are 58 MB.
      const columns = await fetchLog(now.job, now, ['time', ...first])
      if (mine !== round) return
      time.value = columns.get('time') ?? new Float32Array(0)
      lanes.value = lanesOf(now, columns)
      shown.value = first
      whole.value = { from: time.value[0] ?? 0, to: Math.max(time.value.at(-1) ?? 1, (time.value[0] ?? 0) + 0.2) }
      view.value = whole.value
      stretches.value = []
      const found = await api.stretches(now.job, now.id)
      if (mine !== round) return
      stretches.value = found
      await nextFrame()
      const rest = channels.filter((channel) => !columns.has(channel))
      const others = rest.length ? lanesOf(now, await fetchLog(now.job, now, rest)) : []
      if (mine !== round) return
      const all = new Map([...lanes.value, ...others].map((lane) => [lane.channel, lane]))
      lanes.value = channels.flatMap((channel) => all.get(channel) ?? [])
      ;[shaded.value, fed.value] = [[], null]
      // What does not count is worked out once the log is to be seen.
      await nextFrame()
      await countWhat(now)
    } catch (error) {
      if (mine === round) problem.value = (error as Error).message
    } finally {
      if (mine === round) busy.value = false
    }
  }
  watch(
    // What is left out of it is another run to the field.
    () => run.value && JSON.stringify([run.value.id, run.value.without]),
    () => run.value && void load(run.value),
    { immediate: true },
  )

  /** Leaves parts of the run out by time, or takes them in again; its name is changed the same way. */
  async function changeRun(body: Pick<RunChange, 'without' | 'name'>): Promise<void> {
    if (!run.value) return
    try {
      await api.changeRun(run.value.job, run.value.id, body)
      await open.reloadRuns()
      problem.value = ''
    } catch (error) {
      problem.value = (error as Error).message
    }
  }

  /** Splits, joins or names stretches. @returns whether it was done */
  async function change(body: StretchChange): Promise<boolean> {
    if (!run.value) return false
    try {
      stretches.value = await api.changeStretches(run.value.job, run.value.id, body)
      problem.value = ''
      return true
    } catch (error) {
      problem.value = (error as Error).message
      return false
    }
  }
  return {
    run,
    chosen,
    time,
    lanes: computed(() => lanes.value.filter((lane) => shown.value.includes(lane.channel))),
    all: lanes,
    shown,
    shaded,
    fed,
    stretches,
    view,
    whole,
    problem: computed(() => problem.value || untold.value),
    busy,
    change,
    changeRun,
  }
}
