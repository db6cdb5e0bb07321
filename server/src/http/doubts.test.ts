import type { DoubtAnswer, RunInfo, Verdict } from '@yuzumix/core'
import { joined } from '../../../core/trials/joined'
import { shedCsv } from '../../../core/trials/shedRides'
import { YARD, yardRides } from '../../../core/trials/yardRides'
import type { RunColumns } from '../../../core/src/run/run'
import { api, asBytes, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

const get = async <T>(path: string): Promise<T> => (await server.call().get(api(path)).expect(200)).body as T
const RIDES = yardRides({ ...YARD, cylinders: 1, seed: 31 })

async function jobOf(rides: readonly RunColumns[]): Promise<string> {
  const job = await server.newJob({ title: 'Yard', machine: { displacementCc: 640, cylinders: 2, strokes: 4 } })
  for (const [k, ride] of rides.entries()) await server.upload(job, shedCsv(ride), { name: `R${k}` }).expect(201)
  return job
}
const doubled = (ride: RunColumns): RunColumns => ({ ...ride, rpm: ride.rpm.map((one) => 2 * one) })

it('a speed counted twice is named, no verdict stands on it, and read half all is as it should be', async () => {
  const sound = await jobOf(RIDES)
  expect(await get<DoubtAnswer[]>(`/jobs/${sound}/doubts`)).toEqual([])
  const right = await get<Verdict>(`/jobs/${sound}/verdict`)

  const job = await jobOf(RIDES.map(doubled))
  const [doubt, ...more] = await get<DoubtAnswer[]>(`/jobs/${job}/doubts`)
  expect(more).toEqual([])
  expect(doubt).toMatchObject({ kind: 'speed', offer: { label: 'Count it half', readAs: { speed: 0.5 } } })
  expect(doubt!.runs).toHaveLength(RIDES.length)
  const stopped = await get<Verdict>(`/jobs/${job}/verdict`)
  expect(stopped).toMatchObject({ retune: null, enough: false, level: null })
  expect(stopped.why).toEqual([expect.stringContaining('No verdict stands on readings that are in doubt')])
  expect(stopped.findings).toContain(doubt!.text)

  const before = await get<RunInfo[]>(`/jobs/${job}/runs`)
  const read = await server
    .call()
    .post(api(`/jobs/${job}/read-as`))
    .send({ runs: doubt!.runs, readAs: doubt!.offer!.readAs })
    .expect(200)
  const after = read.body as RunInfo[]
  expect(after[0]!.facts!.toRpm).toBeCloseTo(before[0]!.facts!.toRpm / 2, -1)
  expect(await get<DoubtAnswer[]>(`/jobs/${job}/doubts`)).toEqual([])
  const { why, ...verdict } = await get<Verdict>(`/jobs/${job}/verdict`)
  expect({ ...verdict, levels: [] }).toEqual({ ...right, why: undefined, levels: [] })
  expect(why).toEqual(right.why)
  // Nothing that was stored has changed: it is undone by one word, and travels with the archive.
  const archive = await server
    .call()
    .get(api(`/jobs/${job}/archive`))
    .buffer(true)
    .parse(asBytes)
    .expect(200)
  const copy = await server
    .call()
    .post(api('/archives'))
    .attach('file', archive.body as Buffer, 'job.zip')
    .expect(201)
  const copied = await get<RunInfo[]>(`/jobs/${(copy.body as { id: string }).id}/runs`)
  expect(copied.map(({ readAs, facts }) => ({ readAs, facts }))).toEqual(
    after.map(({ readAs, facts }) => ({ readAs, facts })),
  )
  await server
    .call()
    .post(api(`/jobs/${job}/read-as`))
    .send({ runs: doubt!.runs, readAs: null })
    .expect(200)
  expect(await get<RunInfo[]>(`/jobs/${job}/runs`)).toEqual(before)
})

it('how a run is read is checked at the door, and changed for all or for none', async () => {
  const job = await jobOf(RIDES.slice(0, 2))
  const [first] = await get<RunInfo[]>(`/jobs/${job}/runs`)
  const ask = (body: object) =>
    server
      .call()
      .post(api(`/jobs/${job}/read-as`))
      .send(body)
  for (const readAs of [
    { speed: 0 },
    { speed: 'half' },
    { throttle: { shut: 50, open: 55 } },
    { throttle: { shut: 5 } },
    { turn: 1 },
  ])
    await ask({ runs: [first!.id], readAs }).expect(400)
  await ask({ runs: [], readAs: null }).expect(400)
  await ask({ runs: [first!.id, 'nobody'], readAs: { speed: 0.5 } }).expect(400)
  expect((await get<RunInfo[]>(`/jobs/${job}/runs`))[0]).toEqual(first)
})

it('three sweeps in one file are three for plan, findings and comparison', async () => {
  const at100 = RIDES.slice(-3)
  const files = await jobOf(at100)
  const log = await jobOf([joined(at100)])
  const done = async (job: string): Promise<number> =>
    (await get<{ ticks: { left: number }[] }>(`/jobs/${job}/plan`)).ticks.reduce((sum, one) => sum + one.left, 0)
  expect(await done(log)).toBe(await done(files))
  const [run] = await get<RunInfo[]>(`/jobs/${log}/runs`)
  expect(run!.facts!.sweeps).toHaveLength(3)
})
