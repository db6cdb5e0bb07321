import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import {
  accelerationChange,
  taperExits,
  type HandNode,
  type MadePlate,
  type PlateShape,
  type TableInfo,
} from '@yuzumix/core'
import type { Suggestion } from '@/parts/desk/useTableEdits'
import type { ResponseState } from './useResponse'

/** What roll-ons, loop exits or a wished shape suggest for a table of the answer to the hand. */
export function useHandSuggestion(
  { response, plate }: Pick<ResponseState, 'response' | 'plate'>,
  info: Ref<TableInfo | null>,
  tables: Ref<TableInfo[]>,
) {
  const shape = ref<PlateShape>('torque straight')
  const share = ref(80)
  /** a curve of one's own: grip, and % of the way from idle stop to full */
  const curve = ref<[number, number][]>([0, 20, 40, 60, 80, 100].map((grip) => [grip, grip]))
  const reason = ref('')
  const made = shallowRef<MadePlate | null>(null)
  const fault = ref('')
  let round = 0

  watch(
    [info, response, shape, share, curve, reason],
    async () => {
      const mine = ++round
      const table = info.value?.table
      fault.value = ''
      if (table?.kind !== 'plate' || !response.value) {
        made.value = null
        return
      }
      const valuesOf = (one: TableInfo) => ({ grip: one.table.load, rpm: one.table.rpm, values: one.table.values })
      try {
        const found = await plate({
          wish: { shape: shape.value, share: share.value / 100, curve: curve.value },
          now: valuesOf(info.value!),
          others: tables.value
            .filter((one) => one.table.kind === 'plate' && one.id !== info.value!.id)
            .map((one) => ({ name: one.name, table: valuesOf(one) })),
          reason: reason.value.trim() || null,
        })
        if (mine === round) made.value = found
      } catch (error) {
        if (mine === round) [made.value, fault.value] = [null, (error as Error).message]
      }
    },
    { immediate: true },
  )

  const suggested = computed<(Suggestion & { nodes: HandNode[][] }) | null>(() => {
    const [table, found] = [info.value?.table, response.value]
    if (!table || !found) return null
    if (table.kind === 'plate') return made.value && { nodes: nodesOf(table.values, made.value.values, 'by the shape') }
    if (table.kind === 'acceleration fuel')
      return { nodes: nodesOf(table.values, accelerationChange(table, found.groups).values, 'by roll-ons near here') }
    return table.kind.startsWith('fuel') && table.loadAxis === 'throttle'
      ? { nodes: taperExits(table, found.exits) }
      : null
  })
  return { shape, share, curve, reason, made, fault, suggested }
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
