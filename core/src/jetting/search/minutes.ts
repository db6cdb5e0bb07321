import type { Slot } from '../carburettor'

/** Minutes to get at the carburettor, once for all that is changed (common practice: most of an hour with the part itself). */
const STRIP_MINUTES = 30
/** Minutes for each part, and whether the carburettor is to be got at for it. */
export const SLOT_MINUTES: Record<Slot, { strips: boolean; minutes: number }> = {
  main: { strips: true, minutes: 8 },
  pilot: { strips: true, minutes: 8 },
  needle: { strips: true, minutes: 15 },
  clip: { strips: true, minutes: 12 },
  cutaway: { strips: true, minutes: 20 },
  spring: { strips: true, minutes: 12 },
  rod: { strips: false, minutes: 10 },
  screw: { strips: false, minutes: 3 },
  high: { strips: false, minutes: 2 },
  low: { strips: false, minutes: 2 },
}

/** Minutes that some changes take together. */
export function minutesOf(slots: readonly Slot[]): number {
  const strips = slots.some((slot) => SLOT_MINUTES[slot].strips) ? STRIP_MINUTES : 0
  return slots.reduce((sum, slot) => sum + SLOT_MINUTES[slot].minutes, strips)
}
