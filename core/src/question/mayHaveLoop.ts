import type { Job } from '../contract/job'

/**
 * Whether a closed loop may hold the mixture of a machine: as the rig says, else where fuel is injected. Where none can,
 * readings that stand at lambda 1 are what the engine was given, and are corrected like any other.
 *
 * @example
 * mayHaveLoop({ rigging: { fuelling: 'carburetted' }, jetting: null }) // false
 */
export function mayHaveLoop({ rigging, jetting }: Pick<Job, 'rigging' | 'jetting'>): boolean {
  if (rigging?.closedLoop) return rigging.closedLoop === 'closed loop'
  return rigging?.fuelling !== 'carburetted' && !jetting
}
