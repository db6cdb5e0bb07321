import { computed } from 'vue'
import { cellChange, type Table } from '@yuzumix/core'
import { changeColour, inkOn } from '@/parts/field/changeColour'
import { signed } from '@/parts/numbers/format'
import type { CellLook } from '@/parts/table/TableGrid.vue'
import { useDisplay } from '@/stores/display'

/** A degree of spark is coloured like so many percent of fuel. */
const PERCENT_PER_DEGREE = 3

export type Coloured = (size: number, unit: string) => Pick<CellLook, 'colour' | 'ink'>

/** Colours of a change by its size, in percent or degrees, in the light or dark of the page. */
export function useChangeColours(): Coloured {
  const display = useDisplay()
  const paper = computed(() => (display.dark ? '#2a2e26' : '#fbfaf5'))
  return (size, unit) => {
    const colour = changeColour(unit === '°' ? size * PERCENT_PER_DEGREE : size, paper.value)
    return { colour, ink: inkOn(colour) }
  }
}

/** What a cell shows while two revisions are compared. */
export function differenceLook([from, to]: [Table, Table], row: number, column: number, coloured: Coloured): CellLook {
  const before = from.values[row]![column]!
  const after = to.values[row]![column]!
  const { size, unit } = cellChange(before, after, to)
  return {
    text: before === after ? '=' : signed(after - before, Math.abs(after - before) < 10 ? 2 : 1),
    under: before === after ? '' : `${signed(size)} ${unit}`,
    ...coloured(size, unit),
  }
}
