import { wrap, type Remote } from 'comlink'
import type { FieldWorker } from './fieldWork'
import type { QuestionWork } from './questionWork'
import type { RunsWorker } from './runs.worker'

/** A worker, and the way to end it. */
export interface Connected<Api> {
  remote: Remote<Api>
  end(): void
}

function connected<Api>(worker: Worker): Connected<Api> {
  return { remote: wrap<Api>(worker), end: () => worker.terminate() }
}

// The bundler finds a worker by these words only, so that each stands here in full.
export const fieldWorker = (): Connected<FieldWorker> =>
  connected(new Worker(new URL('./field.worker.ts', import.meta.url), { type: 'module' }))
export const runsWorker = (): Connected<RunsWorker> =>
  connected(new Worker(new URL('./runs.worker.ts', import.meta.url), { type: 'module' }))
export const questionWorker = (): Connected<QuestionWork> =>
  connected(new Worker(new URL('./question.worker.ts', import.meta.url), { type: 'module' }))
