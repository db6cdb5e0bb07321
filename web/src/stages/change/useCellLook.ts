import { computed, type Ref } from 'vue'
import {
  factorBetween,
  percentFromFactor,
  predictLambda,
  servedCylinder,
  type Field,
  type Matrix,
  type NodeChange,
  type SuggestedChange,
  type Table,
  type TableInfo,
  type TableSince,
} from '@yuzumix/core'
import { signed } from '@/parts/numbers/format'
import type { CellLook } from '@/parts/table/TableGrid.vue'
import { useDisplay } from '@/stores/display'
import { differenceLook, useChangeColours } from '@/parts/desk/differenceLook'

interface Shown {
  info: Ref<TableInfo | null>
  field: Ref<Field | null>
  suggested: Ref<SuggestedChange | null>
  since: Ref<TableSince[] | null>
  values: Ref<Matrix>
  shown: (value: number) => string
  differs: (row: number, column: number) => boolean
  view: Ref<'change' | 'predicted'>
  /** two revisions under comparison */
  pair: Ref<[Table, Table] | null>
}

/** What each cell of the change stage shows: value and suggestion, predicted mixture, or the difference of two revisions. */
export function useCellLook({ info, field, suggested, since, values, shown, differs, view, pair }: Shown) {
  const display = useDisplay()
  const colours = useChangeColours()
  const coloured = (percent: number): Pick<CellLook, 'colour' | 'ink'> => colours(percent, '%')

  const predicted = computed(() => {
    if (view.value !== 'predicted' || !field.value || !suggested.value || !info.value) return null
    const { table, cylinder } = info.value
    const factors = values.value.map((cells, row) =>
      cells.map((value, column) => factorBetween(table.values[row]![column]!, value, table)),
    )
    return predictLambda(field.value, cylinder, factors, since.value ?? [])
  })

  /** A closed loop holds the cell, and no trims tell what it needs. */
  function isHeld(row: number, column: number): boolean {
    if (!field.value || !info.value) return false
    const { held, byTrim } = servedCylinder(field.value, info.value.cylinder, row, column, since.value ?? [])
    return held[row]![column]! && !byTrim[row]![column]
  }

  function prediction(row: number, column: number): CellLook {
    const lambda = predicted.value?.[row]?.[column]
    if (lambda === null || lambda === undefined) return { text: '·', under: '' }
    const cylinder = servedCylinder(field.value!, info.value!.cylinder, row, column, since.value ?? [])
    if (isHeld(row, column))
      return { text: display.mixture(lambda), under: 'held', held: true, edited: differs(row, column) }
    const off = percentFromFactor(lambda / cylinder.target[row]![column]!)
    return {
      text: display.mixture(lambda),
      under: `${signed(off)} %`,
      held: cylinder.held[row]![column]!,
      filled: cylinder.evidence[row]![column] === 'bridged',
      edited: differs(row, column),
      ...coloured(off),
    }
  }

  function under(node: NodeChange | undefined, value: number): string {
    if (!node || node.reason === 'no evidence') return '·'
    if (node.reason === 'held by closed loop') return 'held'
    if (node.reason === 'misfire, no fuel') return 'misfire'
    if (node.reason === 'does not answer') return 'no answer'
    const mark = value === node.after && node.changePct !== 0 ? '✓' : node.reason === 'tapered off' ? '~' : ''
    return `${mark}${signed(node.changePct)}`
  }

  function look(row: number, column: number): CellLook {
    if (pair.value) return differenceLook(pair.value, row, column, colours)
    if (view.value === 'predicted') return prediction(row, column)
    const value = values.value[row]?.[column] ?? 0
    const node = suggested.value?.nodes[row]?.[column]
    return {
      text: shown(value),
      under: under(node, value),
      edited: differs(row, column),
      held: node !== undefined && isHeld(row, column),
      filled: node?.bridged ?? false,
      ...(node && node.reason !== 'held by closed loop' ? { title: node.reason, ...coloured(node.changePct) } : {}),
    }
  }
  return { look }
}
