import type { LoadAxis } from './table'

/** By what a controller with several maps decides which of them is in force. */
export const RULED_BY = ['throttle', 'manifold', 'rpm'] as const

/** Where a table is in force on a controller with several maps; ends null where it goes on. */
export interface InForce {
  /** opening in %, manifold pressure in kPa, or rpm */
  by: LoadAxis | 'rpm'
  from: number | null
  to: number | null
}

/** Whether a value lies where a table is in force; a missing one does not. */
export const isInForce = ({ from, to }: InForce, value: number): boolean =>
  value >= (from ?? -Infinity) && value <= (to ?? Infinity)

/** Why a rule cannot be, in words; null when it can. */
export const inForceFault = ({ from, to }: InForce): string | null =>
  from === null && to === null
    ? 'says from where or up to where'
    : from !== null && to !== null && !(to > from)
      ? `ends at ${to}, which must be above ${from}`
      : null

/** Share of the smaller range up to which an overlap is no more than a crossover. */
const CROSSOVER = 0.5

/**
 * Whether two tables act on the same readings, so that what one did bears on the other. Maps that take turns share their
 * crossover alone.
 *
 * @example
 * actTogether({ by: 'throttle', from: null, to: 25 }, { by: 'throttle', from: 15, to: null }) // false
 */
export function actTogether(one: InForce | null, other: InForce | null): boolean {
  if (!one || !other || one.by !== other.by) return true
  const [low, high] = [(at: InForce) => at.from ?? 0, (at: InForce) => at.to ?? Infinity]
  const shared = Math.min(high(one), high(other)) - Math.max(low(one), low(other))
  const smaller = Math.min(high(one) - low(one), high(other) - low(other))
  return shared === Infinity || shared > CROSSOVER * smaller
}

/**
 * Where readings are booked to a map: its range, each crossover shared out at its middle, as either map rules more on its own
 * side of it.
 *
 * @param others of the job's maps; null for one that is always in force
 * @example
 * bookedTo({ by: 'throttle', from: null, to: 35 }, [{ by: 'throttle', from: 25, to: null }]).to // 30
 */
export function bookedTo(own: InForce, others: readonly (InForce | null)[]): InForce {
  let { from, to } = own
  for (const other of others) {
    if (!other || other.by !== own.by || actTogether(own, other)) continue
    const isAbove = (other.from ?? -Infinity) > (own.from ?? -Infinity)
    if (isAbove && to !== null && other.from !== null && other.from < to) to = (other.from + to) / 2
    if (!isAbove && from !== null && other.to !== null && other.to > from) from = (other.to + from) / 2
  }
  return { by: own.by, from, to }
}
