import type { NewSet, RunSet } from '../contract/set'

/** What a new set keeps of the one before it until it is told: it is most often the same rig with something changed. */
const CARRIED = [
  'setup',
  'rig',
  'gear',
  'sensorPlace',
  'weather',
  'inertia',
  'drumWindow',
  'torqueSource',
  'fitting',
] as const

/**
 * A set with what it does not say taken from the set before it. One of entered figures takes nothing: it is another machine.
 *
 * @param before null for the first of a job
 */
export function carriedOver(set: NewSet, before: RunSet | null): NewSet {
  if (!before || set.figures) return set
  const kept = CARRIED.flatMap((field) => {
    const value = before[field]
    return set[field] === undefined && value !== undefined && value !== null && value !== '' ? [[field, value]] : []
  })
  const told = Object.fromEntries(kept) as Partial<NewSet>
  // What a change was predicted to do was proven by the set it was made for.
  return { ...told, ...(told.fitting && { fitting: { ...told.fitting, predicted: null } }), ...set }
}
