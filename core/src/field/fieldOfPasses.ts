import { isRefusal } from '../refusal/refusal'
import type { RunColumns } from '../run/run'
import { estimateField, summariseField, workOutField, type FieldWork } from './estimate'
import { byState } from './readings/byState'
import { type Field, type FieldOptions } from './field'
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
function earlierFields(
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
      if (!isRefusal(error, 'no-field')) throw error
      return []
    }
  })
}

/** What of a field hangs on runs and a few options alone: it is the same while a target is dragged. */
type KeptPart = 'zones' | 'lag' | 'earlier'
/** Makes a part, or brings the one that was made for the same. @param hangsOn options it hangs on; runs are known to the keeper */
export type KeepPart = <T>(part: KeptPart, hangsOn: unknown, make: () => T) => T
const makeAnew: KeepPart = (_part, _hangsOn, make) => make()

/**
 * The field of some runs, with what the passes before them on the same hardware tell: zones that a loop held then, and cells
 * that did not answer to what was corrected since. A machine has one lag: all of these runs tell it.
 *
 * @param passes runs of each pass, oldest first
 * @param keep of a page that asks again and again
 * @param last what it was told last, of the same runs and grid
 * @returns work is null where each reading is booked to its nearest cell: there is nothing to explain
 * @throws Refusal 'no-field' when no run has a usable reading
 */
export function workOfPasses(
  runs: readonly RunColumns[],
  passes: readonly (readonly RunColumns[])[],
  given: FieldOptions,
  keep: KeepPart = makeAnew,
  last: FieldWork | null = null,
): { field: Field; work: FieldWork | null } {
  const { grid, filters, probes, since, mostSamples: _most, ...rest } = given
  const settled = { grid, filters, probes }
  const knownZones = keep('zones', { ...settled, lag: given.lag }, () =>
    zonesBefore(passes, { ...given, mostSamples: null }),
  )
  const options = { ...given, knownZones }
  const states = passes.length ? [...passes, runs] : byState(runs, since)
  const lag = given.lag === null ? keep('lag', settled, () => lagOfMachine(states, options)) : null
  if (given.method === 'nearest') return { field: estimateField(runs, options, lag), work: null }
  const work = workOutField(runs, options, lag, last)
  const earlier = keep('earlier', { ...settled, ...rest }, () => earlierFields(passes, options, lag))
  return { field: withAnswers(summariseField(work), earlier, options), work }
}

/**
 * The field alone.
 *
 * @throws Refusal 'no-field' when no run has a usable reading
 * @example
 * const { cylinders } = fieldOfPasses(runs, before, options)
 */
export const fieldOfPasses = (
  runs: readonly RunColumns[],
  passes: readonly (readonly RunColumns[])[],
  options: FieldOptions,
): Field => workOfPasses(runs, passes, options).field
