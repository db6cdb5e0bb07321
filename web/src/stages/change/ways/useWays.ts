import { computed, ref, shallowRef, watch } from 'vue'
import {
  checkSettings,
  checkWay,
  fuelTables,
  HIGH_LOAD,
  jettingQuestion,
  judgeWay,
  standingIn,
  tableWithWay,
  typedSettings,
  wantedOfField,
  WAYS,
  waysQuestion,
  wholeOf,
  type Refusal,
  type SettingsOf,
  type Wanted,
  type WayAsked,
  type WayKind,
  type WaysQuestion,
  type WayTold,
  type TakeWay,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { withReason } from '@/api/withReason'
import { useJob } from '@/job/openJob'
import { loader } from '@/job/loader'
import { useQuestion } from '@/job/useQuestion'
import { fieldWorker, questionWorker } from '@/workers/connect'
import { useAnswer } from '@/workers/useAnswer'
import { useField } from '@/workers/useField'
import { NO_TABLE, firstChoices, wayAsked, type WayChoices } from './wayChoices'

/** How the range is used: what counts more where ways are weighed. */
export const USES = { even: 'all cells alike', full: 'full load counts more', part: 'part load counts more' } as const
export type Use = keyof typeof USES
const MORE = 3

/** A line of the list of ways. */
export interface WayLine {
  kind: WayKind
  /** as it is asked for; null where something has to be said before */
  way: WayAsked | null
  wants: string
  told: WayTold | null
  /** it stands in the machine already */
  isIn: boolean
}

/** The slow one is worked out beside the others. */
const QUICK = WAYS.filter((kind) => kind !== 'coarse')

/** Ways to put the wanted change in: what each would leave wrong, one of them opened and adjusted. */
export function useWays(connectField = fieldWorker, connect = questionWorker) {
  const open = useJob()
  const job = (): string => open.job!.id
  const cylinder = ref<number | null>(null)
  const use = ref<Use>('even')
  const { question: asked, fault } = useQuestion(
    (ground) => waysQuestion(ground, loader, { ways: [{ kind: 'global' }], cylinder: cylinder.value }),
    () => cylinder.value,
  )
  const { field, problem, slow, cancel } = useField(
    job,
    computed(() => asked.value?.field ?? null),
    connectField,
  )
  const untold = computed(() => asked.value?.untold ?? [])
  const wanted = computed<Wanted | null>(() => {
    if (!field.value || !asked.value || untold.value.length) return null
    const whole = wantedOfField(field.value, cylinder.value, asked.value.since)
    const weightAt = (load: number): number =>
      use.value === 'even' || load >= HIGH_LOAD !== (use.value === 'full') ? 1 : MORE
    return { ...whole, weight: whole.load.map((load) => whole.rpm.map(() => weightAt(load))) }
  })
  const isKnown = computed(() => wanted.value?.pct.some((cells) => cells.some((one) => one !== null)) ?? false)

  const choices = ref<WayChoices | null>(null)
  watch(
    wanted,
    (now) => {
      if (now && !choices.value) choices.value = firstChoices(now)
    },
    { immediate: true },
  )
  const tables = computed(() => fuelTables(open.tables))
  const ways = computed(
    () =>
      new Map(
        WAYS.map((kind) => {
          const made = choices.value ? wayAsked(kind, choices.value, tables.value) : { wants: '' }
          const fault = 'way' in made && wanted.value ? faultOf(wanted.value, made.way) : ''
          const way = 'way' in made && !fault ? made.way : null
          const whole = way && ({ ...way, ...standingIn(tables.value, kind) } as WayAsked)
          return [kind, { way: whole, wants: 'wants' in made ? made.wants : fault }] as const
        }),
      ),
  )
  const questionOf = (kinds: readonly WayKind[]) =>
    computed<WaysQuestion | null>(() => {
      const own = kinds.flatMap((kind) => ways.value.get(kind)!.way ?? [])
      if (!wanted.value || !isKnown.value || own.length === 0) return null
      return {
        field: null,
        cylinder: null,
        since: [],
        wanted: wanted.value,
        ways: own,
        set: own.map(() => null),
        untold: [],
      }
    })
  const quick = useAnswer(job, 'ways', questionOf(QUICK), connect)
  const coarse = useAnswer(job, 'ways', questionOf(['coarse']), connect)
  const answers = computed(() => {
    const all = [...(quick.answer.value?.ways ?? []), ...(coarse.answer.value?.ways ?? [])]
    return new Map(all.map((one) => [one.kind, one]))
  })
  const lines = computed<WayLine[]>(() =>
    WAYS.map((kind) => ({
      kind,
      ...ways.value.get(kind)!,
      told: ways.value.get(kind)!.way ? (answers.value.get(kind) ?? null) : null,
      isIn: tableWithWay(open.tables, kind) !== undefined,
    })),
  )

  const { question: boxQuestion } = useQuestion((ground) => (ground.job.jetting ? jettingQuestion(ground, {}) : null))
  const box = useAnswer(job, 'jetting', boxQuestion, connect)
  /** The best change of one part of a carburettor, where the job has one. */
  const parts = computed(() => box.answer.value?.list?.byChanges[0]?.[0] ?? null)

  const chosen = ref<WayKind>('coarse')
  const line = computed(() => lines.value.find((one) => one.kind === chosen.value)!)
  /** numbers of the opened way: as they are typed in, or as somebody set them */
  const own = shallowRef<SettingsOf[WayKind] | null>(null)
  watch([() => line.value.told, chosen], () => (own.value = null))
  const settings = computed<SettingsOf[WayKind] | null>(
    () => own.value ?? (line.value.told && typedSettings(chosen.value, line.value.told.settings)),
  )
  const judged = computed<{ told: WayTold | null; fault: string }>(() => {
    const { way, told } = line.value
    if (!way || !settings.value || !wanted.value || !told) return { told: null, fault: '' }
    try {
      checkSettings(way, settings.value, 'settings')
      const found = judgeWay(wholeOf(wanted.value, way), way, { settings: settings.value as never }) as WayTold
      return {
        told: { ...found, ...(told.free && { free: told.free as never }), points: told.points } as WayTold,
        fault: '',
      }
    } catch (error) {
      return { told: null, fault: (error as Error).message }
    }
  })

  /** Puts the opened way in. @returns whether it was */
  async function take(): Promise<boolean> {
    const { way } = line.value
    if (!way || !wanted.value) return false
    const named = choices.value![chosen.value]
    const id = 'table' in named ? named.table : ''
    const {
      table: _,
      commanded: __,
      standing: ___,
      ...plain
    } = {
      table: undefined,
      commanded: undefined,
      standing: undefined,
      ...way,
    }
    const body = {
      wanted: wanted.value,
      runs: asked.value!.field!.runs.map((run) => run.id),
      way: { ...plain, ...(id !== '' && id !== NO_TABLE && { table: id }), settings: settings.value },
    } as unknown as TakeWay
    const taken = await withReason((override) => api.takeWay(job(), { ...body, override }))
    if (!taken) return false
    await open.reloadTables()
    return true
  }

  return {
    field,
    since: computed(() => asked.value?.since ?? []),
    wanted,
    isKnown,
    untold,
    cylinder,
    use,
    choices,
    tables,
    lines,
    hasCarburettor: computed(() => open.job?.jetting != null),
    parts,
    chosen,
    line,
    settings,
    isOwn: computed(() => own.value !== null),
    judged,
    set: (next: SettingsOf[WayKind] | null) => (own.value = next),
    take,
    problem: computed(() => fault.value || problem.value || quick.problem.value || coarse.problem.value),
    busy: computed(() => quick.busy.value || coarse.busy.value),
    slow: computed(() => slow.value || quick.slow.value || coarse.slow.value),
    progress: coarse.progress,
    cancel: () => {
      cancel()
      quick.cancel()
      coarse.cancel()
    },
  }
}
export type Ways = ReturnType<typeof useWays>

/** Why a way cannot be worked out, in words; empty where it can: one that cannot keeps no other from it. */
function faultOf(wanted: Wanted, way: WayAsked): string {
  try {
    checkWay(wanted, way, '')
    return ''
  } catch (error) {
    const [fault] = (error as Refusal).faults
    return fault
      ? `${NAMES[fault.field?.replace(/^\./, '') ?? ''] ?? ''} ${fault.message}.`.trim()
      : (error as Error).message
  }
}

/** How the fields of a way are called on the page. */
const NAMES: Readonly<Record<string, string>> = {
  rpmPoints: 'The number of speeds',
  loadPoints: 'The number of loads',
  rpm: 'Speeds:',
  load: 'Loads:',
  edges: 'Edges:',
  threshold: 'The threshold',
  crossover: 'A crossover',
  kPa: 'The rail pressure',
  mostKpa: 'The pump:',
  kPaFrom: 'The old pressure',
  kPaTo: 'The new pressure',
  table: 'The table',
  commanded: 'The commanded lambda',
  intent: 'The target:',
}
