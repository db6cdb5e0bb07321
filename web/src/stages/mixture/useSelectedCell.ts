import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import type { FieldOptions, NodeExplanation, RunTrace } from '@yuzumix/core'
import type { useField } from '@/workers/useField'

/** The cylinder and the cell looked at, what they rest on, and the traces of the runs at that throttle stop. */
export function useSelectedCell(work: ReturnType<typeof useField>, options: Ref<FieldOptions | null>) {
  const { field, solved, explain, traces: fetchTraces } = work
  const cylinderNumber = ref(1)
  const cylinder = computed(
    () =>
      field.value?.cylinders.find((one) => one.cylinder === cylinderNumber.value) ?? field.value?.cylinders[0] ?? null,
  )
  const selected = ref<{ row: number; column: number } | null>(null)
  const traces = shallowRef<RunTrace[]>([])
  const explanation = shallowRef<NodeExplanation | null>(null)

  /** The throttle stop whose curves are drawn: the selected node's, else the highest with evidence. */
  const row = computed(() => {
    if (selected.value) return selected.value.row
    const known = cylinder.value?.lambda.findLastIndex((cells) => cells.some((value) => value !== null)) ?? -1
    return Math.max(0, known)
  })

  // Another grid may have fewer nodes than the selection.
  watch(options, (now) => {
    if (
      selected.value &&
      now &&
      (selected.value.row >= now.grid.load.length || selected.value.column >= now.grid.rpm.length)
    )
      selected.value = null
  })

  watch([solved, row, cylinder], async () => {
    traces.value =
      field.value?.method === 'solve' && cylinder.value ? await fetchTraces(cylinder.value.cylinder, row.value) : []
  })
  watch([solved, selected, cylinder], async () => {
    const at = selected.value
    explanation.value =
      at && field.value?.method === 'solve' && cylinder.value
        ? await explain(cylinder.value.cylinder, at.row, at.column)
        : null
  })
  return { cylinderNumber, cylinder, selected, row, traces, explanation }
}
