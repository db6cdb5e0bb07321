import type { RunColumns } from '../run/run'
import { estimateField } from './estimate'
import { FieldError, type Field, type FieldOptions } from './field'
import { withAnswers, type EarlierField } from './faults/silent'
import { lagOfMachine } from './lag/lagOfMachine'
import type { LagEstimate } from './lag/lag'
import { zonesBefore } from './held/zonesBefore'

/** Passes before that are asked whether cells answered; those before them say no more. */
const MOST_PASSES = 2

/**
 * Fields of the passes before, for telling which cells did not answer; none where nothing was corrected since.
 *
 * @param passes runs of each pass, oldest first
 * @param options of the field that follows them, with what was corrected by each pass (`correctedByPass`)
 * @param lag of the machine, where more than one pass tells it
 */
export function earlierFields(
  passes: readonly (readonly RunColumns[])[],
  options: FieldOptions,
  lag: LagEstimate | null = null,
): EarlierField[] {
  const { corrected: now, correctedByPass = [] } = options
  const known = passes.flatMap((runs, k) => (correctedByPass[k] ? [{ runs, corrected: correctedByPass[k] }] : []))
  return known.slice(-MOST_PASSES).flatMap(({ runs, corrected }) => {
    if (JSON.stringify(corrected) === JSON.stringify(now)) return []
    try {
      const plain = { ...options, corrected, since: [], correctedBefore: null, correctedByPass: [], mostSamples: null }
      return [{ field: estimateField(runs, plain, lag), corrected }]
    } catch (error) {
      // A pass without a usable reading tells nothing.
      if (!(error instanceof FieldError)) throw error
      return []
    }
  })
}

/**
 * The field of some runs, with what the passes before them on the same hardware tell: zones that a loop held then, and cells
 * that did not answer to what was corrected since. A machine has one lag: all of these runs tell it.
 *
 * @param passes runs of each pass before, oldest first
 * @throws FieldError when no run has a usable reading
 * @example
 * const { cylinders } = fieldOfPasses(runs, before, options)
 */
export function fieldOfPasses(
  runs: readonly RunColumns[],
  passes: readonly (readonly RunColumns[])[],
  options: FieldOptions,
): Field {
  const known = { ...options, knownZones: zonesBefore(passes, options) }
  const lag = passes.length ? lagOfMachine([...passes, runs], options) : null
  return withAnswers(estimateField(runs, known, lag), earlierFields(passes, known, lag), options)
}
