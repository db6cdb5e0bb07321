import type { BenchState } from '@yuzumix/core'
import { api } from '../testServer'
import { CURLEW, testBench, type TestBench } from '../testBench'

let bench: TestBench
beforeAll(async () => {
  bench = await testBench()
})
afterAll(() => bench.stop())
const call = () => bench.server.call()
const isGone = async (job: string): Promise<boolean> =>
  (await call().get(api(`/jobs/${job}`))).status === 404 && bench.server.benches.of(job) === null
const deleted = async (job: string): Promise<void> => {
  await call()
    .delete(api(`/jobs/${job}`))
    .query({ override: 'a test' })
    .expect(204)
  await call()
    .delete(api(`/bin/${job}`))
    .expect(204)
}

describe('a job that is deleted while a call to its bench is under way', () => {
  const values = ({ tables }: BenchState) => tables[0]!.table.values.map((row) => row.map((cell) => cell + 0.5))
  it.each<[string, (state: BenchState) => [method: 'post' | 'patch' | 'delete', path: string, body?: object]]>([
    ['a write', (state) => ['post', `tables/${state.tables[0]!.id}`, { values: values(state) }]],
    [
      'a write with reasons',
      (state) => ['post', `tables/${state.tables[0]!.id}`, { values: values(state), override: 'a test' }],
    ],
    ['a setting beside the tables', () => ['post', 'ways/global', { settings: { kind: 'global', percent: 1 } }]],
    ['keeping', () => ['post', 'keep']],
    ['restoring', () => ['post', 'restore', {}]],
    ['recovering', () => ['post', 'recover']],
    ['power cut', () => ['post', 'power-cycle']],
    ['a sensor', () => ['post', 'calibrate/closed']],
    ['faults', () => ['patch', 'faults', { holdsMs: 10 }]],
    ['letting go', () => ['delete', '']],
  ])('%s: told so, never a fault of ours, and the rig stands', async (_what, make) => {
    // Each order of the two that the moment may bring.
    for (const turns of [0, 1, 3, 10]) {
      const job = await bench.server.newJob()
      const [method, path, body] = make(await bench.connect(job, {}, false))
      const { link } = bench.server.benches.of(job)!
      link.set({ throttle: 20 })
      const asked = call()
        [method](api(`/jobs/${job}/bench${path && `/${path}`}`))
        .send(body ?? {})
      const answered = asked.then((answer) => answer)
      for (let turn = 0; turn < turns; turn++) await new Promise((resolve) => setImmediate(resolve))
      await deleted(job)
      const { status, body: told } = await answered
      expect([status < 500, told]).toEqual([true, told])
      expect(await isGone(job)).toBe(true)
      const late = await call()
        [method](api(`/jobs/${job}/bench${path && `/${path}`}`))
        .send(body ?? {})
      expect(late.status).toBeGreaterThanOrEqual(400)
      expect(late.status).toBeLessThan(500)
    }
  })
  it('a bench that is connected meanwhile is let go', async () => {
    for (const turns of [0, 1, 2, 3, 5, 8, 13, 21]) {
      const job = await bench.server.newJob()
      const asked = call()
        .put(api(`/jobs/${job}/bench`))
        .send({ maker: 'simulated', machine: CURLEW })
        .then((one) => one)
      for (let turn = 0; turn < turns; turn++) await new Promise((resolve) => setImmediate(resolve))
      await deleted(job)
      expect((await asked).status).toBeLessThan(500)
      expect(await isGone(job)).toBe(true)
    }
  })
  it('a run under way is stored before, and is there when the job is brought back', async () => {
    const job = await bench.server.newJob()
    await bench.connect(job)
    const watcher = await bench.watcher(job)
    watcher.say({ act: 'drive' })
    watcher.say({ act: 'record' })
    await watcher.until(() => watcher.samples.length > 200)
    await call()
      .delete(api(`/jobs/${job}`))
      .query({ override: 'a test' })
      .expect(204)
    await watcher.until(() => watcher.isGone)
    await call()
      .post(api(`/bin/${job}/restore`))
      .send({})
      .expect(200)
    expect(await bench.runsOf(job)).toHaveLength(1)
  })
})
