import { api, testServer, type TestServer } from '../testServer'
import { testSets } from '../testSets'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const call = () => server.call()
const newJob: TestServer['newJob'] = (...args) => server.newJob(...args)
const { pull } = testSets(() => server)

describe('the plan', () => {
  it('is chosen, ticked off by runs, and says what would help most', async () => {
    const job = await newJob({ title: 'Planned', use: 'road' })
    const empty = (
      await call()
        .get(api(`/jobs/${job}/plan`))
        .expect(200)
    ).body
    expect(empty).toMatchObject({ chosen: false, next: [] })
    expect(empty.note).toMatch(/begin with the first run/)
    await call()
      .patch(api(`/jobs/${job}`))
      .send({ plan: { ...empty.choice, fromRpm: 3000, toRpm: 9000, minutesAtHand: 10 } })
      .expect(200)
    for (const seed of [1, 2]) await pull(job, seed)
    const { body } = await call()
      .get(api(`/jobs/${job}/plan`))
      .expect(200)
    expect(body.chosen).toBe(true)
    expect(body.plan.overBy).toBeGreaterThan(0)
    expect(body.ticks.find((one: { key: string }) => one.key === 'sweep 100')).toMatchObject({ left: 1 })
    expect(body.next[0]).toMatchObject({ kind: 'sweep' })
    expect(body.next[0].load).toBeLessThan(100)
  })
  it('refuses a span that is none', async () => {
    const job = await newJob()
    const { choice } = (await call().get(api(`/jobs/${job}/plan`))).body
    const { body } = await call()
      .patch(api(`/jobs/${job}`))
      .send({ plan: { ...choice, fromRpm: 8000, toRpm: 5000 } })
      .expect(400)
    expect(body.errors[0].field).toBe('plan.toRpm')
  })
})
