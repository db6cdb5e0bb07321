import { changeJobAsked, makeJob } from '../acts/jobs/changeJob'
import { deleteJobAsked } from '../acts/jobs/deleteJob'
import type { Benches } from '../sessions/benches'
import { listJobs } from '../store/jobs'
import type { Workshop } from '../acts/questions/ask'
import type { Handlers } from './handlers'

export const jobHandlers = ({ store }: Workshop, benches: Benches) =>
  ({
    jobs: () => listJobs(store),
    createJob: ({ body }) => makeJob(store, body),
    job: ({ job }) => job(),
    changeJob: async ({ job, body }) => changeJobAsked(store, await job(), body),
    deleteJob: ({ at, query }) => deleteJobAsked(store, benches, at.job, query['override']?.slice(0, 500)),
  }) satisfies Partial<Handlers>
