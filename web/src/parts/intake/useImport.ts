import { computed, ref, watch, type Ref } from 'vue'
import { isRefusal, channelTitle, missingChannels } from '@yuzumix/core'
import { api } from '@/api/client'
import { uploadLog } from '@/api/uploadLog'
import { useJob } from '@/job/openJob'
import { groupByHeader, readHead, type ChosenLog, type LogGroup } from './logHead'
import { NEW_SET, setsByDay, type DayOfFiles } from './setsByDay'

/** A file on its way in, and what came of it. */
export interface Outcome {
  file: File
  group: LogGroup
  state: 'waiting' | 'going' | 'added' | 'same' | 'failed' | 'cancelled'
  share: number
  note: string
}

/** The way of files into the open job: their heads read, their columns named, each sent, and what came of it. */
export function useImport(files: Ref<File[]>) {
  const open = useJob()
  const phase = ref<'reading' | 'mapping' | 'adding' | 'done'>('reading')
  const logs = ref<ChosenLog[]>([])
  const groups = ref<LogGroup[]>([])
  const outcomes = ref<Outcome[]>([])
  const days = ref<DayOfFiles[]>([])
  /** by day: the set that was made for its files */
  let made = new Map<string, string>()
  /** the job had no set: it makes its first by itself */
  let isFirst = false
  const rateHz = ref<number | undefined>()
  const gaugeScale = ref<number | undefined>()
  let controller = new AbortController()

  const shown = computed({ get: () => files.value.length > 0, set: (value) => !value && close() })
  const faulty = computed(() => logs.value.filter((log) => log.fault))
  /** Neither a column of time nor a rate above the header. */
  const asksRate = ({ layout, mapping }: LogGroup): boolean =>
    layout !== null && layout.headRateHz === null && !Object.values(mapping).some((one) => one?.channel === 'time')
  const missing = (group: LogGroup): string[] =>
    !group.layout
      ? []
      : missingChannels(Object.values(group.mapping).flatMap((one) => one?.channel ?? [])).map((one) =>
          channelTitle(one),
        )
  const needsRate = computed(() => groups.value.some(asksRate))
  const showsAfr = computed(() =>
    groups.value.some((group) =>
      Object.values(group.mapping).some((one) => one?.channel.startsWith('lambda') && /afr|a\/f/i.test(one.unit)),
    ),
  )
  const count = computed(() => groups.value.reduce((sum, group) => sum + group.files.length, 0))
  const ready = computed(
    () =>
      count.value > 0 &&
      groups.value.every((group) => missing(group).length === 0) &&
      (!needsRate.value || Boolean(rateHz.value)),
  )
  const added = computed(() => outcomes.value.filter((one) => one.state === 'added').length)

  watch(
    files,
    async (list) => {
      if (list.length === 0) return
      phase.value = 'reading'
      ;[outcomes.value, rateHz.value, gaugeScale.value] = [[], undefined, open.job!.gaugeScale]
      const [heads, remembered] = await Promise.all([Promise.all(list.map(readHead)), api.mappings().catch(() => ({}))])
      logs.value = heads
      groups.value = groupByHeader(heads, remembered)
      const { sets, runs, tables } = open
      days.value = setsByDay(
        groups.value.flatMap((group) => group.files),
        { sets, runs, tables },
      )
      made = new Map()
      isFirst = sets.length === 0 && days.value.length === 1
      phase.value = 'mapping'
    },
    { immediate: true },
  )

  // Files go into the job they were dropped on, and into no other.
  watch(() => open.job?.id, close)

  async function add(which: Outcome[], again = false): Promise<void> {
    const job = open.job!.id
    phase.value = 'adding'
    controller = new AbortController()
    for (const one of which) {
      if (controller.signal.aborted) {
        one.state = 'cancelled'
        continue
      }
      one.state = 'going'
      try {
        const set = await setFor(one.file)
        const { runs, refused } = await uploadLog(
          job,
          {
            file: one.file,
            mapping: one.group.layout && one.group.mapping,
            sampleRateHz: asksRate(one.group) ? (rateHz.value ?? null) : null,
            ...(gaugeScale.value && { gaugeScale: gaugeScale.value }),
            set,
            again,
          },
          (share) => (one.share = share),
          controller.signal,
        )
        const several = runs.length > 1 ? [`${runs.length} runs: ${runs.map((run) => run.name).join(', ')}.`] : []
        const without = refused.map(({ file, detail }) => `Not added: ${file}. ${detail}`)
        one.note = [...several, ...without, ...new Set(runs.flatMap((run) => run.warnings))].join(' ')
        ;[one.state, one.share] = ['added', 1]
      } catch (error) {
        one.state = isRefusal(error) ? (error.code === 'same-file' ? 'same' : 'failed') : 'cancelled'
        one.note = one.state === 'cancelled' ? 'Cancelled; nothing of it was stored.' : (error as Error).message
      }
    }
    phase.value = 'done'
    await dropEmpty()
    await open.reloadRuns().catch(() => undefined)
    if (outcomes.value.every((one) => one.state === 'added' && !one.note)) close()
  }

  /** The set of a file's day, made when its first file comes; none where the job has none and takes its first by itself. */
  async function setFor(file: File): Promise<string | undefined> {
    const day = days.value.find((one) => one.files.some((other) => other === file))
    if (!day) return undefined
    if (day.set !== NEW_SET) return day.set
    if (isFirst) return undefined
    const known = made.get(day.day)
    if (known) return known
    const name = days.value.length > 1 ? `Set ${open.sets.length + 1}, ${day.day}` : `Set ${open.sets.length + 1}`
    const id = await open.addSet({ name })
    made.set(day.day, id)
    return id
  }
  /** A set that was made for files of which none came in is no set. */
  async function dropEmpty(): Promise<void> {
    for (const [day, id] of made) {
      const own = days.value.find((one) => one.day === day)!.files
      if (outcomes.value.some((one) => one.state === 'added' && own.includes(one.file))) continue
      made.delete(day)
      await open.deleteSet(id).catch(() => undefined)
    }
  }

  function addAll(): void {
    outcomes.value = groups.value.flatMap((group) =>
      group.files.map((file): Outcome => ({ file, group, state: 'waiting', share: 0, note: '' })),
    )
    void add(outcomes.value)
  }

  function close(): void {
    controller.abort()
    files.value = []
    ;[logs.value, groups.value, outcomes.value] = [[], [], []]
  }

  return {
    phase,
    groups,
    outcomes,
    days,
    rateHz,
    gaugeScale,
    shown,
    faulty,
    missing,
    needsRate,
    showsAfr,
    count,
    ready,
    added,
    add,
    addAll,
    close,
    cancel: () => controller.abort(),
  }
}
