import { proxy } from 'comlink'
import { computed, ref, shallowRef, watch } from 'vue'
import {
  carburettorAxis,
  circuitTargets,
  DEFAULT_FIELD_OPTIONS,
  DEFAULT_JETTING,
  fieldRuns,
  fittedFault,
  fittedText,
  OPENING_ROWS,
  readingSpeeds,
  trustOf,
  type FieldOptions,
  type Fitted,
  type Fitting,
  type JettingSettings,
  type OpeningRow,
  type Predicted,
  type ProposalList,
  type RunInfo,
  type RunSet,
  type TipIn,
  type Weather,
  mayHaveLoop,
} from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { jettingWorker } from '@/workers/connect'
import type { JettingWorker, Present, Proposed } from '@/workers/jetting.worker'
import { plainCopy, useRunWorker, type Work } from '@/workers/useRunWorker'

/** A set of runs that was made with something fitted. */
export type FittingSet = RunSet & { fitting: Fitting }

/** Manifold pressures, kPa, where rods meter by vacuum. */
const PRESSURES = [30, 40, 50, 60, 70, 80, 90, 100]

const NOTHING_TOLD = { inadequate: '', advice: [], air: '' }

/** A job's carburettors: what is fitted, what was read with it, and what the box could do. */
export function useJetting(connect = jettingWorker) {
  const open = useJob()
  const settings = computed<JettingSettings>(() => open.job?.jetting ?? DEFAULT_JETTING)
  const isSet = computed(() => open.job?.jetting != null)
  const chosen = ref(0)
  const carburettor = computed(() => Math.min(chosen.value, settings.value.carburettors.length - 1))
  const fittings = computed(() => open.sets.filter((set): set is FittingSet => set.fitting !== null))
  const present = computed(() => fittings.value.at(-1) ?? null)
  const fitted = computed<Fitted | null>(() => present.value?.fitting.fitted[carburettor.value] ?? null)
  const fault = computed(() =>
    fitted.value ? fittedFault(settings.value.body, settings.value.box, fitted.value) : null,
  )
  const trust = computed(() => trustOf(settings.value.checks))
  const targets = computed(() => circuitTargets(settings.value))
  const axis = computed(() => carburettorAxis(settings.value))

  /** Readings by fitting and carburettor. */
  const readings = shallowRef<Map<string, OpeningRow[][]>>(new Map())
  const warnings = ref<string[]>([])
  const tipIn = shallowRef<(TipIn | null)[]>([])
  const model = shallowRef<Present | null>(null)
  const list = shallowRef<ProposalList | null>(null)
  /** why nothing is proposed, what the readings themselves tell, and for which air it holds */
  const told = shallowRef<Pick<Proposed, 'inadequate' | 'advice' | 'air'>>(NOTHING_TOLD)
  /** fitted parts that came out of a file, to be looked over and recorded */
  const fromFile = shallowRef<Fitted | null>(null)
  const progress = ref(0)
  const { run, cancel, busy, problem } = useRunWorker(connect, () => open.job!.id, 'field')

  async function work({ send, ask, isWanted }: Work<JettingWorker>): Promise<void> {
    const job = open.job
    if (!job || !isSet.value) return
    progress.value = 0
    const loads = axis.value === 'throttle' ? [...OPENING_ROWS] : PRESSURES
    const optionsFor = (runs: readonly RunInfo[]): FieldOptions => {
      const rpm = readingSpeeds(runs)
      return {
        ...DEFAULT_FIELD_OPTIONS,
        filters: { ...DEFAULT_FIELD_OPTIONS.filters, ...job.mixture.filters },
        hasLoop: mayHaveLoop(job),
        grid: { loadAxis: axis.value, rpm, load: loads },
        target: loads.map(() => rpm.map(() => 0.9)),
      }
    }
    const found = new Map<string, OpeningRow[][]>()
    const speaking: string[] = []
    let tips: (TipIn | null)[] = []
    for (const set of fittings.value) {
      const runs = fieldRuns(job.mixture, set.id, open.runs)
      if (runs.length === 0) continue
      const asked = await send(runs)
      const result = await ask((worker) =>
        worker.readings(asked, plainCopy(optionsFor(runs)), plainCopy(settings.value.carburettors)),
      )
      found.set(set.id, result.rows)
      if (set === present.value) {
        speaking.push(...result.warnings)
        tips = result.tipIn
      }
    }
    ;[readings.value, warnings.value, tipIn.value] = [found, speaking, tips]
    const measured = fittings.value.flatMap((set) => {
      const rows = found.get(set.id)?.[carburettor.value] ?? []
      const parts = set.fitting.fitted[carburettor.value]
      return rows.length && parts ? [{ fitted: plainCopy(parts), readings: rows, weather: plainCopy(set.weather) }] : []
    })
    const parts = fitted.value
    if (measured.length === 0 || !parts || fault.value) {
      ;[model.value, list.value, told.value] = [null, null, NOTHING_TOLD]
      return
    }
    const onProgress = proxy((share: number) => void (isWanted() && (progress.value = share)))
    const answer = await ask((worker) =>
      worker.propose(plainCopy(settings.value), measured, plainCopy(parts), onProgress),
    )
    ;[model.value, list.value, told.value] = [answer.present, answer.list, answer]
  }
  watch([settings, fittings, () => open.runs, carburettor], () => run(work), { immediate: true })

  /** Records what is fitted from now on; the runs that follow are its own. */
  async function fit(
    parts: Fitted[],
    reason: string,
    predicted: Predicted[][] | null,
    weather: Weather | null,
  ): Promise<void> {
    const before = present.value?.fitting.fitted ?? []
    const words = parts
      .map((one, k) => fittedText(one, before[k] ?? null, settings.value.body.kind))
      .filter(Boolean)
      .join('; ')
    const n = fittings.value.length + 1
    await open.addSet({
      name: `Fitting ${n}${n > 1 && words ? `: ${words}` : ''}`.slice(0, 120),
      setup: words.slice(0, 400),
      weather,
      fitting: { fitted: parts, reason, predicted },
    })
  }
  /** Takes a choice at once; several in quick succession are all kept. */
  const choose = (next: Partial<JettingSettings>): void => open.choose({ jetting: { ...settings.value, ...next } })
  /** a carburettor or box is on its way to be saved: what is fitted is recorded against the one to come, not the old one */
  const isSaving = ref(false)
  /** Saves now, and rejects with what the server refuses. */
  async function change(next: Partial<JettingSettings>): Promise<void> {
    isSaving.value = true
    try {
      await open.change({ jetting: { ...settings.value, ...next } })
    } finally {
      isSaving.value = false
    }
  }

  return {
    settings,
    isSet,
    axis,
    chosen,
    carburettor,
    fittings,
    present,
    fitted,
    fault,
    trust,
    targets,
    readings,
    warnings,
    tipIn,
    model,
    list,
    told,
    problem,
    fromFile,
    busy,
    progress,
    cancel,
    isSaving,
    fit,
    choose,
    change,
  }
}

export type Jetting = ReturnType<typeof useJetting>
