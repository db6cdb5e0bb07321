import type { BesideAnswer, RunInfo } from '@yuzumix/core'
import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

it('exhaust gas that a log or somebody by hand read stands at its cells, against the limit of the machine', async () => {
  const job = await server.newJob()
  const rows = ['time,rpm,throttle,lambda,EGT 1,Injector duty (%)']
  for (let k = 0; k < 400; k++) rows.push([k / 20, 5000, 60, 0.88, 700 + (k % 3), 55].join(','))
  const run = (await server.upload(job, rows.join('\n')).expect(201)).body as RunInfo
  await server
    .call()
    .patch(api(`/jobs/${job}`))
    .send({ limits: { exhaustC: 690 } })
    .expect(200)
  const grid = { rpm: [4000, 5000, 6000], load: [40, 60, 80] }
  const ask = async (runs: string[]): Promise<BesideAnswer> =>
    (
      await server
        .call()
        .post(api(`/jobs/${job}/beside`))
        .send({ runs, ...grid })
        .expect(200)
    ).body as BesideAnswer
  const told = await ask([run.id])
  const heat = told.channels.find((one) => one.channel === 'exhaust1')!
  expect(heat.mean[1]![1]!).toBeCloseTo(701, 0)
  expect([heat.most[1]![1], heat.limit]).toEqual([702, 690])
  expect(told.channels.find((one) => one.channel === 'duty1')).toMatchObject({ limit: 85 })
  expect(told.steadyPct[1]![1]).toBeCloseTo(0, 6)
  expect(heat.mean[0]![0]).toBeNull()
  const hand = (
    await server
      .call()
      .post(api(`/jobs/${job}/hand-readings`))
      .send({ readings: [{ rpm: 5000, load: 60, readings: ['0.87'], exhaustC: [655] }] })
      .expect(201)
  ).body as RunInfo
  expect(hand.channels.map((one) => one.channel)).toContain('exhaust1')
  const byHand = await ask([hand.id])
  expect(byHand.channels[0]!.mean[1]![1]).toBe(655)
})
