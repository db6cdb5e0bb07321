import type { FlatnessAnswer } from '../contract/report'
import type { Field } from '../field/field'
import { measuredFlatness } from '../rig/flatness'

/** How far a field is off target, typically and where most, as the HTTP interface answers it. */
export function flatnessAnswer(field: Field): FlatnessAnswer {
  const { nodes, held, rms, worst } = measuredFlatness(field)
  const at = worst && field.cylinders.find((one) => one.cylinder === worst.cylinder)!
  return {
    nodes,
    held,
    rmsPct: nodes ? rms : null,
    worst: worst && {
      cylinder: worst.cylinder,
      rpm: field.grid.rpm[worst.column]!,
      load: field.grid.load[worst.row]!,
      pct: worst.pct,
      low: at!.lowPct[worst.row]![worst.column]!,
      high: at!.highPct[worst.row]![worst.column]!,
    },
  }
}
