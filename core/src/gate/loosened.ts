import type { MachineLimits } from '../contract/brief'
import { grouped, plain } from '../numbers/format'
import type { SafetyLimits } from '../rig/safety'
import type { Danger } from './danger'

const NAMES: Record<keyof SafetyLimits, (value: number) => string> = {
  lean: (value) => `lean stop at ${plain(value, 2)} times the target`,
  leanBoosted: (value) => `lean stop under boost at ${plain(value, 2)} times the target`,
  load: (value) => `lean counts from ${plain(value, 0)} % of plate only`,
  coolantC: (value) => `coolant stop at ${plain(value, 0)} °C`,
  rpm: (value) => `speed stop at ${grouped(value)} rpm`,
  knock: (value) => `knock stop at level ${value}`,
}

/**
 * What of a change of the bench's limits lets more pass than the usual limits do, and than was let pass before.
 *
 * @param now limits in force; @param usual those of this rig by default
 */
export function loosenedLimits(now: SafetyLimits, usual: SafetyLimits, change: Partial<SafetyLimits>): Danger[] {
  return (Object.keys(NAMES) as (keyof SafetyLimits)[]).flatMap((name): Danger[] => {
    const value = change[name]
    if (value === undefined || value <= now[name] || value <= usual[name]) return []
    return [
      {
        kind: 'limit loosened',
        field: `limits.${name}`,
        text: `The ${NAMES[name](value)}: the usual is ${NAMES[name](usual[name]).replace(/^.* (at|from) /, '')}. What no longer stops a run has to be stopped by hand.`,
      },
    ]
  })
}

/** What of a change of a machine's limits lets more pass than before: a ceiling raised or taken away, licensed work opened. */
export function loosenedMachine(before: MachineLimits | undefined, after: MachineLimits | undefined): Danger[] {
  if (!before || after === undefined) return []
  const ceiling = before.revCeiling ?? null
  const now = after.revCeiling ?? null
  const dangers: Danger[] = []
  if (ceiling !== null && (now === null || now > ceiling))
    dangers.push({
      kind: 'limit loosened',
      field: 'limits.revCeiling',
      text: `The rev ceiling of ${grouped(ceiling)} rpm${before.revReason ? ` (${before.revReason})` : ''} would ${now === null ? 'be taken away' : `be raised to ${grouped(now)} rpm`}: plans and the bench then go that far.`,
    })
  if (before.licensed && !after.licensed)
    dangers.push({
      kind: 'limit loosened',
      field: 'limits.licensed',
      text: 'Licensed work would be opened for changes. They are for a licensed mechanic under the rules that apply.',
    })
  return dangers
}
