import type { Complaint } from '../contract/complaint'
import { grouped } from '../numbers/format'

/** What a complaint is called: its word, and what the rider said. */
export function complaintName({ word, text }: Pick<Complaint, 'word' | 'text'>): string {
  return [word, text].filter(Boolean).join(': ')
}

/**
 * Where a complaint is pinned, in words; empty when nobody said.
 *
 * @example
 * placeWords({ toThrottle: 20, gear: 2 }) // 'up to 20 % throttle, gear 2'
 */
export function placeWords({
  fromRpm,
  toRpm,
  fromThrottle,
  toThrottle,
  gear,
  temperature,
}: Pick<Complaint, 'fromRpm' | 'toRpm' | 'fromThrottle' | 'toThrottle' | 'gear' | 'temperature'>): string {
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
