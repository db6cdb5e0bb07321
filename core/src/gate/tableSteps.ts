import { largeStepsText, largeStepText, type LargeStep } from '../change/largeSteps'
import { kindOfTable, type TableKind } from '../table/kinds'
import type { Danger } from './danger'

/**
 * Steps of a table that are too large to be taken unasked, as one danger; none without any.
 *
 * @param from what they were judged against, in words; @param at where the table stands in what was asked
 */
export function tableSteps(kind: TableKind, steps: readonly LargeStep[], from: string, at = ''): Danger[] {
  if (steps.length === 0) return []
  return [
    {
      kind: kindOfTable(kind).step,
      field: `${at}values`,
      text: largeStepsText(steps, from),
      lines: steps.map((step) => ({
        field: `${at}values[${step.row}][${step.column}]`,
        message: largeStepText(step),
      })),
      steps,
    },
  ]
}

/** What a declared change of hardware may ask of a whole table unasked: as a step of fuel may (common practice). */
const HARDWARE = { least: 0.96, most: 1.25 }

/**
 * A factor that a declared change of hardware takes out before steps are judged: nothing measures it, so a far one is asked about.
 */
export function hardwareDangers(hardware: { what: string; factor: number } | undefined, at = ''): Danger[] {
  if (!hardware || (hardware.factor >= HARDWARE.least && hardware.factor <= HARDWARE.most)) return []
  return [
    {
      kind: 'fuel step',
      field: `${at}hardware.factor`,
      text: `"${hardware.what}" would by itself multiply the whole table by ${hardware.factor}. Nothing has measured that. Say how it is known, and measure at small load first.`,
    },
  ]
}
