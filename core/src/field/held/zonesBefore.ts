import { isRefusal } from '../../refusal/refusal'
import type { RunColumns } from '../../run/run'
import { type FieldOptions } from '../field'
import { gather } from '../readings/gathered'
import type { HeldZone } from './heldZones'

/** Earlier passes that are looked through for zones; those before them say no more. */
const MOST_PASSES = 3

/**
 * Held zones that earlier passes on the same hardware showed: a loop stays in the controller, though a later pass may not
 * show it. One that a later pass contradicts is given up.
 *
 * @param passes runs of each pass, oldest first
 * @param options of the field that follows them
 */
export function zonesBefore(passes: readonly (readonly RunColumns[])[], options: FieldOptions): HeldZone[] {
  let known: HeldZone[] = []
  if (!options.hasLoop) return known
  const { correctedByPass = [] } = options
  const first = Math.max(0, passes.length - MOST_PASSES)
  for (const [k, runs] of passes.slice(first).entries()) {
    try {
      const corrected = correctedByPass[first + k] ?? []
      const correctedBefore = k ? (correctedByPass[first] ?? []) : null
      const plain = { ...options, corrected, since: [], correctedBefore, knownZones: known }
      known = gather(runs, plain, null).heldZones
    } catch (error) {
      // A pass without a usable reading shows no zone.
      if (!isRefusal(error, 'no-field')) throw error
    }
  }
  return known
}
