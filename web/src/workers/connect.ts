import { wrap, type Remote } from 'comlink'
import type { FieldWorker } from './field.worker'
import type { JettingWorker } from './jetting.worker'
import type { ResponseWorker } from './response.worker'
import type { RunsWorker } from './runs.worker'
import type { SparkWorker } from './spark.worker'

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
export const sparkWorker = (): Connected<SparkWorker> =>
  connected(new Worker(new URL('./spark.worker.ts', import.meta.url), { type: 'module' }))
export const jettingWorker = (): Connected<JettingWorker> =>
  connected(new Worker(new URL('./jetting.worker.ts', import.meta.url), { type: 'module' }))
export const responseWorker = (): Connected<ResponseWorker> =>
  connected(new Worker(new URL('./response.worker.ts', import.meta.url), { type: 'module' }))
