import type { NamedStretch, RunInfo } from '@yuzumix/core'
import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

/** A pull with one acceleration all along, on the level and in still air, then the clutch in; no noise, so that it is had by hand. */
function log(speed = true): string {
  const rows = [speed ? 'time,rpm,throttle,lambda,speed' : 'time,rpm,throttle,lambda']
  let [t, v, rpm] = [0, 12, 3000]
  const row = (throttle: number): void => {
    const told = [t, rpm, throttle, 0.88, ...(speed ? [v * 3.6] : [])]
    rows.push(told.map((one) => one.toFixed(4)).join(','))
    t += 0.05
  }
  for (let k = 0; k < 60; k++) {
    row(1)
  }
  while (v < 36) {
    v += 5 * 0.05
    rpm = v * 250
    row(100)
  }
  while (v > 14) {
    // Rolling 40 N and 0.3 N per (m/s)^2 on 250 kg.
    v -= ((40 + 0.3 * v * v) / 250) * 0.05
    rpm += (1400 - rpm) * 0.2
    row(1)
  }
  return rows.join('\n')
}
const ask = (job: string, body: object) =>
  server
    .call()
    .post(api(`/jobs/${job}/road-power`))
    .send(body)

it('torque is traction times road speed over engine speed, by hand', async () => {
  const job = await server.newJob()
  const run = (await server.upload(job, log()).expect(201)).body as RunInfo
  const { body } = await ask(job, { runs: [run.id], massKg: 250, rotatingMassKg: 0, tyreCircumferenceM: 2 }).expect(200)
  const told = body as {
    rpm: number[]
    torque: number[]
    low: number[]
    high: number[]
    drag: string
    engineTurnsPerWheelTurn: number[]
    caution: string
  }
  expect(told.drag).toBe('coast-down')
  const k = told.rpm.indexOf(6000)
  // At 6,000 rpm 24 m/s: (250 x 5 + 40 + 0.3 x 24^2) N x 24 m/s / 628.3 rad/s.
  expect(told.torque[k]!).toBeCloseTo(((1250 + 40 + 0.3 * 576) * 24) / ((6000 * 2 * Math.PI) / 60), 0)
  expect(told.low[k]!).toBeLessThan(told.torque[k]!)
  // 250 rpm a m/s: 60 s of it turn the engine 250 times for 60 m, which are 30 turns of the wheel.
  expect(told.engineTurnsPerWheelTurn[0]).toBeCloseTo(250 / 30, 1)
  expect(told.caution).toMatch(/never with a drum/)
  // A stretch of it, as a run.
  const { body: found } = await server
    .call()
    .get(api(`/jobs/${job}/runs/${run.id}/stretches`))
    .expect(200)
  const sweep = (found as NamedStretch[]).find((one) => one.kind === 'sweep')!
  const { body: part } = await ask(job, { runs: [sweep.id], massKg: 250 }).expect(200)
  expect((part as { drag: string }).drag).toBe('assumed')
})

it('says what is missing: a road speed, a pull, a run, a mass', async () => {
  const job = await server.newJob()
  const run = (await server.upload(job, log(false)).expect(201)).body as RunInfo
  const { body } = await ask(job, { runs: [run.id], massKg: 250 }).expect(400)
  expect(JSON.stringify(body)).toMatch(/has no speed/)
  await ask(job, { runs: ['none'], massKg: 250 }).expect(400)
  await ask(job, { runs: [run.id] }).expect(400)
  const still =
    'time,rpm,throttle,lambda,speed\n' + Array.from({ length: 100 }, (_, k) => `${k / 20},3000,20,0.9,0`).join('\n')
  const idle = (await server.upload(job, still).expect(201)).body as RunInfo
  await ask(job, { runs: [idle.id], massKg: 250 }).expect(422)
})

it('a pull that was left out by time is none, and a coast-down across a gap is not read', async () => {
  const job = await server.newJob()
  const run = (await server.upload(job, log()).expect(201)).body as RunInfo
  const without = (from: number, to: number) =>
    server
      .call()
      .patch(api(`/jobs/${job}/runs/${run.id}`))
      .send({ without: [{ from, to, reason: 'a gust' }] })
      .expect(200)
  await without(12, 13)
  const { body } = await ask(job, { runs: [run.id], massKg: 250, rotatingMassKg: 0 }).expect(200)
  expect((body as { drag: string }).drag).toBe('assumed')
  await without(3, 7.8)
  await ask(job, { runs: [run.id], massKg: 250, rotatingMassKg: 0 }).expect(422)
})
