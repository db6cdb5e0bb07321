import {
  DEFAULT_MIXTURE,
  jobTarget,
  leanTargets,
  loosenedMachine,
  passGate,
  type Job,
  type JobChange,
  type NewJob,
} from '@yuzumix/core'
import type { Store } from '../../store/database'
import { changeJob, createJob } from '../../store/jobs'

/** Makes a job. @throws what the gate refuses, when it wants a mixture that can hurt and nobody says why */
export function makeJob(store: Store, asked: NewJob): Promise<Job> {
  const { mixture = DEFAULT_MIXTURE, jetting, override } = asked
  return createJob(store, asked, passGate(leanTargets(null, jobTarget({ mixture, jetting })), override))
}

/** Changes a job. @throws what the gate refuses, when what is wanted, or let pass, can hurt and nobody says why */
export function changeJobAsked(store: Store, job: Job, { override, ...change }: JobChange): Promise<Job | null> {
  const { mixture = job.mixture, jetting = job.jetting, limits } = change
  const lines = passGate(
    [...leanTargets(jobTarget(job), jobTarget({ mixture, jetting })), ...loosenedMachine(job.limits, limits)],
    override,
  )
  return changeJob(store, job.id, change, lines)
}
