import type { Complaint } from '@yuzumix/core'
import type { RulerSpan } from '@/parts/chart/RulerSpans.vue'

/** % of throttle that a complaint reaches beyond where it was pinned. */
const NEAR = 5

/** Whether a complaint is felt at one of these stops, %; anywhere where none is known. */
function isFeltAt({ fromThrottle, toThrottle }: Complaint, stops: readonly number[]): boolean {
  if (stops.length === 0 || (fromThrottle == null && toThrottle == null)) return true
  return stops.some((stop) => stop >= (fromThrottle ?? 0) - NEAR && stop <= (toThrottle ?? 100) + NEAR)
}

/**
 * Complaints on the ruler: those pinned to a span of rpm, each with its word.
 *
 * @param stops that what is drawn was run at, %: a complaint of small openings says nothing of wide open; all where left out
 */
export function pinSpans(
  complaints: readonly Complaint[],
  highest: number,
  stops: readonly number[] = [],
): RulerSpan[] {
  return complaints
    .filter((one) => (one.fromRpm != null || one.toRpm != null) && isFeltAt(one, stops))
    .map((one) => ({
      key: `pin ${one.id}`,
      from: one.fromRpm ?? 0,
      to: Math.min(one.toRpm ?? highest, highest),
      look: 'attention' as const,
      text: `${one.word}${one.riderSays ? `: ${one.riderSays}` : ''}`,
    }))
}
