import type { Job } from '../contract/job'
import { grouped } from '../numbers/format'

/** Cautions that belong on the report of a job; common practice, deferring to local rules. */
export function reportCautions({
  use,
  machine,
  limits,
  changed,
}: Pick<Job, 'use' | 'machine' | 'limits' | 'changed'>): string[] {
  const removed = (changed ?? []).some(
    ({ part, removed: isOut }) => isOut && (part === 'catalyst' || part === 'baffle'),
  )
  return [
    ...(limits?.licensed ? ['Licensed work: changes are for a licensed mechanic under the rules that apply.'] : []),
    ...(removed || use === 'road'
      ? [
          'Removing or disabling emission or noise equipment is illegal for road use in many places: the local rules decide.',
        ]
      : []),
    ...(machine?.forcedInduction
      ? ['Lean under boost destroys pistons: a drop in fuel pressure is a reason to stop.']
      : []),
    ...(limits?.weakPump
      ? ['The fuel pump is in doubt: have its pressure measured at full load before riding hard.']
      : []),
    ...(limits?.revCeiling ? [`Keep below ${grouped(limits.revCeiling)} rpm, the rev ceiling of this machine.`] : []),
    'Knocking or a loss of power at full load: close the throttle and have it looked at.',
    'Another fuel than the one named here changes the mixture.',
  ]
}
