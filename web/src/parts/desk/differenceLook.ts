import { interpolateRgb } from 'd3'
import { computed } from 'vue'
import { cellChange, type Table } from '@yuzumix/core'
import { changeColour, inkOn } from '@/parts/field/changeColour'
import { signed } from '@/parts/numbers/format'
import type { CellLook } from '@/parts/table/TableGrid.vue'
import { useDisplay } from '@/stores/display'

/** Degrees of spark at which the colour is full. */
const FULL_DEGREES = 6

export type Coloured = (size: number, unit: string) => Pick<CellLook, 'colour' | 'ink'>

/** More advance is green, less is yellow: orange and purple speak of the mixture alone. */
function sparkColour(degrees: number, paper: string): string {
  const share = Math.min(1, Math.abs(degrees) / FULL_DEGREES)
  return interpolateRgb(paper, degrees > 0 ? '#4c9a76' : '#f0b323')(share ** 0.6)
}

/** Colours of a change by its size, in percent or degrees, in the light or dark of the page. */
export function useChangeColours(): Coloured {
  const display = useDisplay()
  const paper = computed(() => (display.dark ? '#2a2e26' : '#fbfaf5'))
  return (size, unit) => {
    const colour = unit === '°' ? sparkColour(size, paper.value) : changeColour(size, paper.value)
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
