import { computed, ref, shallowRef, watch } from 'vue'
import {
  cellSpans,
  channelTitle,
  levelsOf,
  setAsideSpans,
  type FieldOptions,
  type NamedStretch,
  type RunInfo,
  type SetAsideSpan,
  type StretchChange,
  type RunChange,
  type Span,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { fetchColumns, fetchLog } from '@/api/columns'
import { useJob } from '@/job/openJob'
import { useLookedAt } from '@/job/lookedAt'
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
  const view = ref<Span>({ from: 0, to: 1 })
  const whole = shallowRef<Span>({ from: 0, to: 1 })
  const problem = ref('')
  const busy = ref(false)
  let round = 0

  async function load(now: RunInfo): Promise<void> {
    const mine = ++round
    ;[busy.value, problem.value] = [true, '']
    try {
      const [columns, found] = await Promise.all([fetchLog(now.job, now), api.stretches(now.job, now.id)])
      if (mine !== round) return
      time.value = columns.get('time') ?? new Float32Array(0)
      lanes.value = now.channels.flatMap(({ channel, unit, min, max, header }): Omit<Lane, 'figure'>[] => {
        const values = columns.get(channel)
        if (!values || channel === 'time') return []
        return [
          { channel, title: channelTitle(channel, header), unit, levels: levelsOf(values), least: min, most: max },
        ]
      })
      const first = FIRST.filter((channel) => lanes.value.some((lane) => lane.channel === channel))
      shown.value = first.length ? first : lanes.value.slice(0, 4).map((lane) => lane.channel)
      stretches.value = found
      whole.value = { from: time.value[0] ?? 0, to: Math.max(time.value.at(-1) ?? 1, (time.value[0] ?? 0) + 0.2) }
      view.value = whole.value
      ;[shaded.value, fed.value] = [[], null]
      // What does not count is worked out once the log is to be seen.
      await nextFrame()
      const [counted] = await fetchColumns(now.job, [now], 'field')
      const asked = options()
      if (mine === round && counted && asked) {
        const { grid, lag, filters } = asked
        const how = { loadAxis: grid.loadAxis, lag: lag ?? 0, filters }
        shaded.value = setAsideSpans(counted, how)
        fed.value = cellSpans(counted, grid, how)
      }
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
    problem,
    busy,
    change,
    changeRun,
  }
}
