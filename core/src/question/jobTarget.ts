import type { LeanAim } from '../rig/safety'
import type { TargetChoice } from '../field/target'
import type { Job } from '../contract/job'
import { carburettorAxis, circuitTargets } from '../contract/jetting'

/** What a job wants of its mixture, at every stage alike: the carburettor's own ranges where it has one, else the preset. */
export function jobTarget({ mixture, jetting }: Pick<Job, 'mixture' | 'jetting'>): TargetChoice {
  if (!jetting) return mixture.target
  const by = circuitTargets(jetting).map(({ from, to, lambda }) => ({ from, to, lambda }))
  return { ...mixture.target, ranges: { loadAxis: carburettorAxis(jetting), by } }
}

/** What a run of the job is stopped for when it is lean. */
export function leanAim(job: Pick<Job, 'mixture' | 'jetting' | 'machine'>): LeanAim {
  return { target: jobTarget(job), isBoosted: job.machine?.forcedInduction === true }
}
