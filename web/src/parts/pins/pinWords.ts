import type { Complaint } from '@yuzumix/core'
import type { RulerSpan } from '@/parts/chart/RulerSpans.vue'
import { grouped } from '@/parts/numbers/format'

type Where = Pick<Complaint, 'fromRpm' | 'toRpm' | 'fromThrottle' | 'toThrottle' | 'gear' | 'temperature'>

/** Where a complaint is pinned, in words; empty when nobody said. */
export function placeWords({ fromRpm, toRpm, fromThrottle, toThrottle, gear, temperature }: Where): string {
  const span = (from: number | null | undefined, to: number | null | undefined, unit: string): string | null => {
    if (from == null && to == null) return null
    if (to == null) return `from ${grouped(from!)} ${unit}`
    return from == null ? `up to ${grouped(to)} ${unit}` : `${grouped(from)} to ${grouped(to)} ${unit}`
  }
  return [
    span(fromRpm, toRpm, 'rpm'),
    span(fromThrottle, toThrottle, '% throttle'),
    gear != null ? `gear ${gear}` : null,
    temperature,
  ]
    .filter(Boolean)
    .join(', ')
}

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
