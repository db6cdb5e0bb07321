import { knownPull, pullAsCsv, recordPull, type KnownPull } from '../../core/trials/knownPull'
import type { RunSet } from '@yuzumix/core'
import { api, type TestServer } from './testServer'

/** Pulls of a known engine, and sets of a job, for tests: asked of a server once it is up. */
export function testSets(server: () => TestServer) {
  return {
    pull: (job: string, seed: number, over: Partial<KnownPull> = {}, set?: string) =>
      server()
        .upload(job, pullAsCsv(recordPull(knownPull({ seed, ...over }))), { name: `pull ${seed}`, ...(set && { set }) })
        .expect(201),
    newSet: async (job: string, body: object): Promise<RunSet> =>
      (
        await server()
          .call()
          .post(api(`/jobs/${job}/sets`))
          .send(body)
          .expect(201)
      ).body as RunSet,
    setsOf: async (job: string): Promise<RunSet[]> =>
      (
        await server()
          .call()
          .get(api(`/jobs/${job}/sets`))
      ).body as RunSet[],
  }
}
