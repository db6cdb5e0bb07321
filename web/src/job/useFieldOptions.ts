import { computed, ref, watchEffect, type Ref } from 'vue'
import {
  fieldRuns,
  highestRpm,
  InputError,
  jobTarget,
  madeOnNewest,
  settleFieldOptions,
  type FieldOptions,
  type FieldRequest,
  type LoadGrid,
  type RunInfo,
  mayHaveLoop,
} from '@yuzumix/core'
import { useJob } from './openJob'
import { useCorrected } from './useCorrected'
import { usePassesBefore } from './usePassesBefore'

/**
 * Runs and options of the field as the job has chosen them.
 *
 * @param grid breakpoints to stand on instead of the job's choice: a table to be changed
 * @param keepsOlder whether runs made on older revisions stay among them, for who tells them apart itself
 */
export function useFieldOptions(
  method: Ref<'solve' | 'nearest'> = ref('solve'),
  grid: Ref<LoadGrid | null> = ref(null),
  keepsOlder = false,
) {
  const open = useJob()
  const fault = ref('')
  const options = ref<FieldOptions | null>(null)
  const all = computed(() => (open.job ? fieldRuns(open.job.mixture, open.setOfField, open.runs) : []))
  const made = computed(() => madeOnNewest(all.value, open.fuelTables))
  /** Runs left out because the table was another when they were made. */
  const older = computed(() => (keepsOlder ? 0 : made.value.older.length))
  const runs = computed<RunInfo[]>((before) => {
    const now = keepsOlder ? all.value : made.value.runs
    // The same runs again must not set off another solve.
    return before && before.length === now.length && before.every((run, k) => run === now[k]) ? before : now
  })
  const highest = computed(() => highestRpm(runs.value))
  // Without any run rows stand for openings, as most tables' do.
  const hasThrottle = computed(
    () => runs.value.length === 0 || runs.value.some((run) => run.channels.some((one) => one.channel === 'throttle')),
  )
  const before = usePassesBefore(computed(() => made.value.runs))
  const corrected = useCorrected(computed(() => [runs.value, ...before.value]))
  let key = ''
  watchEffect(() => {
    if (!open.job || !corrected.value) return
    const table = grid.value ?? open.fuelTables[0]?.table ?? null
    const request: FieldRequest = { method: method.value }
    try {
      const next = settleFieldOptions(request, {
        probes: open.job!.rigging?.probes,
        engineCylinders: open.job!.machine?.cylinders,
        hasLoop: mayHaveLoop(open.job),
        revCeiling: open.job!.limits?.revCeiling ?? null,
        mixture: grid.value ? { ...open.job.mixture, breakpoints: null } : open.job.mixture,
        target: jobTarget(open.job),
        table: table && { loadAxis: table.loadAxis, rpm: table.rpm, load: table.load },
        corrected: corrected.value[0],
        correctedBefore: corrected.value[1] ?? null,
        correctedByPass: corrected.value.slice(1),
        highestRpm: highest.value,
        hasThrottle: hasThrottle.value,
      })
      fault.value = ''
      if (JSON.stringify(next) === key) return
      key = JSON.stringify(next)
      options.value = next
    } catch (error) {
      if (!(error instanceof InputError)) throw error
      fault.value = error.message
    }
  })
  return { runs, older, options, fault }
}
