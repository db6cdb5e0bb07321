import { inputRefused } from '../refusal/refusal'
import type { RunSet } from '../contract/set'
import { fieldSet } from './fieldRuns'
import type { JobGround } from './ground'

/**
 * The set that is asked about: the one named, else that of the field, else the newest.
 *
 * @throws Refusal 'input-refused' for one that the job does not have
 */
export function setAsked({ job, sets, runs }: JobGround, id: string | undefined): RunSet | null {
  const found = sets.find((one) => one.id === (id ?? fieldSet(job.mixture, sets, runs)))
  if (id !== undefined && !found)
    throw inputRefused([{ field: 'set', message: `there is no set ${id.slice(0, 40)} in this job` }])
  return found ?? sets.at(-1) ?? null
}
