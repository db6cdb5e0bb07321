import { TRAINER_CASES } from '@yuzumix/core'
import { benchState } from '../acts/bench/benchActs'
import type { Benches } from '../sessions/benches'
import { openCase, openTrainings } from '../acts/bench/trainings'
import { findJob } from '../store/jobs'
import type { Workshop } from '../acts/questions/ask'
import type { Handlers } from './handlers'

/** Cases to learn from. Nothing that is hidden leaves the server before a case is finished. */
export function trainerHandlers({ store }: Workshop, benches: Benches) {
  const trainings = openTrainings(store, benches)
  return {
    trainerCases: () => TRAINER_CASES.map(openCase),
    async takeCase({ at }) {
      const id = await trainings.start(at.case)
      return id && findJob(store, id)
    },
    training: async ({ job }) => trainings.state((await job()).id),
    async connectCase({ job, body, request }) {
      const { id } = await job()
      benches.of(id)?.needsNobodyElse(request.get('x-driver'))
      return benchState(await trainings.connect(id, body.speed ?? 1))
    },
    async workshopAct({ job, body, request }) {
      const { id } = await job()
      benches.of(id)?.needsNobodyElse(request.get('x-driver'))
      await trainings.act(id, body.act)
      return trainings.state(id)
    },
    async finishCase({ job, body }) {
      const { id } = await job()
      await trainings.finish(id, body.diagnosis)
      return trainings.state(id)
    },
  } satisfies Partial<Handlers>
}
