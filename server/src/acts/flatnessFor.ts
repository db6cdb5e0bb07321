import { measuredFlatness, type FieldRequest, type FlatnessAnswer, type Job } from '@yuzumix/core'
import { fieldFor, runsFor, type Workshop } from './fieldFor'

/**
 * How far runs are off target: typically, and where most.
 *
 * @throws FieldError when nothing can be estimated from them
 */
export async function flatnessFor(
  workshop: Workshop,
  job: Job,
  asked: FieldRequest,
  signal: AbortSignal,
): Promise<FlatnessAnswer> {
  const field = await fieldFor(workshop, job, await runsFor(workshop, job, asked.runs), asked, null, signal)
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
