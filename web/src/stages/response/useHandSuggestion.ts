import { computed, ref, type Ref } from 'vue'
import {
  accelerationChange,
  plateQuestion,
  taperExits,
  type HandNode,
  type PlateShape,
  type TableInfo,
  setsFuel,
  setsPlate,
} from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { useQuestion } from '@/job/useQuestion'
import type { Suggestion } from '@/parts/desk/useTableEdits'
import { questionWorker } from '@/workers/connect'
import { useAnswer } from '@/workers/useAnswer'
import type { ResponseState } from './useResponse'

/** What roll-ons, loop exits or a wished shape suggest for a table of the answer to the hand. */
export function useHandSuggestion(
  { response, mode }: Pick<ResponseState, 'response' | 'mode'>,
  info: Ref<TableInfo | null>,
  connect = questionWorker,
) {
  const open = useJob()
  const shape = ref<PlateShape>('torque straight')
  const share = ref(80)
  /** a curve of one's own: grip, and % of the way from idle stop to full */
  const curve = ref<[number, number][]>([0, 20, 40, 60, 80, 100].map((grip) => [grip, grip]))
  const reason = ref('')
  const { question, fault } = useQuestion(
    (ground) =>
      info.value && setsPlate(info.value.table) && response.value
        ? plateQuestion(ground, {
            table: info.value.id,
            set: open.set?.id,
            mode: mode.value,
            shape: shape.value,
            share: share.value / 100,
            curve: curve.value,
            reason: reason.value.trim() || undefined,
          })
        : null,
    () => [info.value, response.value, shape.value, share.value, curve.value, reason.value, mode.value],
  )
  const { answer, problem } = useAnswer(() => open.job!.id, 'plate', question, connect)
  const made = computed(() => (question.value && !fault.value && !problem.value ? answer.value : null))

  const suggested = computed<(Suggestion & { nodes: HandNode[][] }) | null>(() => {
    const [table, found] = [info.value?.table, response.value]
    if (!table || !found) return null
    if (setsPlate(table)) {
      // The table looked at before may have had another shape.
      const fits = made.value?.grip.length === table.load.length && made.value.rpm.length === table.rpm.length
      return fits ? { nodes: nodesOf(table.values, made.value!.values, 'by the shape') } : null
    }
    if (table.kind === 'acceleration fuel')
      return { nodes: nodesOf(table.values, accelerationChange(table, found.groups).values, 'by roll-ons near here') }
    return setsFuel(table) && table.loadAxis === 'throttle' ? { nodes: taperExits(table, found.exits) } : null
  })
  return { shape, share, curve, reason, made, fault: computed(() => fault.value || problem.value), suggested }
}

/** Nodes of a table as it is and as it would be, to a tenth. */
function nodesOf(before: number[][], after: number[][], reason: string): HandNode[][] {
  return before.map((row, r) =>
    row.map((value, c) => {
      const next = Math.round(10 * after[r]![c]!) / 10
      return { before: value, after: next, size: next - value, reason: next === value ? 'as it is' : reason }
    }),
  )
}
