import { computed, ref, shallowRef } from 'vue'
import {
  carburettorAxis,
  circuitTargets,
  DEFAULT_JETTING,
  fittedFault,
  fittedText,
  fittingSets,
  jettingQuestion,
  trustOf,
  type Fitted,
  type JettingSettings,
  type Predicted,
  type Weather,
} from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { useQuestion } from '@/job/useQuestion'
import { questionWorker } from '@/workers/connect'
import { useAnswer } from '@/workers/useAnswer'

/** A job's carburettors: what is fitted, what was read with it, and what the box could do. */
export function useJetting(connect = questionWorker) {
  const open = useJob()
  const settings = computed<JettingSettings>(() => open.job?.jetting ?? DEFAULT_JETTING)
  const isSet = computed(() => open.job?.jetting != null)
  const chosen = ref(0)
  const carburettor = computed(() => Math.min(chosen.value, settings.value.carburettors.length - 1))
  const fittings = computed(() => fittingSets(open.sets))
  const present = computed(() => fittings.value.at(-1) ?? null)
  const fitted = computed<Fitted | null>(() => present.value?.fitting.fitted[carburettor.value] ?? null)
  const fault = computed(() =>
    fitted.value ? fittedFault(settings.value.body, settings.value.box, fitted.value) : null,
  )
  const trust = computed(() => trustOf(settings.value.checks))
  const targets = computed(() => circuitTargets(settings.value))
  const axis = computed(() => carburettorAxis(settings.value))

  const { question, fault: unasked } = useQuestion(
    (ground) => (ground.job.jetting ? jettingQuestion(ground, { carburettor: carburettor.value }) : null),
    () => carburettor.value,
  )
  const { answer, progress, problem, busy, cancel } = useAnswer(() => open.job!.id, 'jetting', question, connect)
  /** Readings by fitting and carburettor. */
  const readings = computed(() => new Map(answer.value?.readings.map(({ set, rows }) => [set, rows])))
  /** fitted parts that came out of a file, to be looked over and recorded */
  const fromFile = shallowRef<Fitted | null>(null)
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
    warnings: computed(() => answer.value?.warnings ?? []),
    tipIn: computed(() => answer.value?.tipIn ?? []),
    model: computed(() => answer.value?.present ?? null),
    list: computed(() => answer.value?.list ?? null),
    /** why nothing is proposed, what the readings themselves tell, and for which air it holds */
    told: computed(() => answer.value ?? { inadequate: '', advice: [], air: '' }),
    problem: computed(() => unasked.value || problem.value),
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
