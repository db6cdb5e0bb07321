import type { Complaint } from '@yuzumix/core'
import type { RulerSpan } from '@/parts/chart/RulerSpans.vue'

/** Complaints on the ruler: those pinned to a span of rpm, each with its word. */
export function pinSpans(complaints: readonly Complaint[], highest: number): RulerSpan[] {
  return complaints
    .filter((one) => one.fromRpm != null || one.toRpm != null)
    .map((one, k) => ({
      key: `pin ${one.id}`,
      from: one.fromRpm ?? 0,
      to: Math.min(one.toRpm ?? highest, highest),
      look: 'attention' as const,
      text: `${one.word}${one.riderSays ? `: ${one.riderSays}` : ''}`,
      line: 1 + (k % 3),
    }))
}
