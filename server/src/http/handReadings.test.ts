import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const call = () => server.call()
const newJob: TestServer['newJob'] = (...args) => server.newJob(...args)

describe('hand readings', () => {
  const send = (job: string, body: object) =>
    call()
      .post(api(`/jobs/${job}/hand-readings`))
      .send(body)
  it('become a run that feeds the field', async () => {
    const job = await newJob()
    const readings = [20, 60, 100].flatMap((load) =>
      [3000, 4000, 5000].map((rpm) => ({ rpm, load, readings: ['14.1-14.3', '13.3'] })),
    )
    const { body: run } = await send(job, { readings }).expect(201)
    expect(run).toMatchObject({ kind: 'hand readings', samples: 9, name: 'Hand readings, 9 points' })
    const { body: field } = await call()
      .post(api(`/jobs/${job}/field`))
      .send({ rpm: [3000, 4000, 5000], load: [20, 60, 100], target: 0.9 })
      .expect(200)
    expect(field.cylinders[0].changePct[1][1]).toBeCloseTo(100 * (14.2 / 14.7 / 0.9 - 1), 1)
    expect(field.cylinders[1].changePct[1][1]).toBeCloseTo(100 * (13.3 / 14.7 / 0.9 - 1), 1)
  })
  it('of two sets are compared by opening, round against round', async () => {
    const job = await newJob()
    const setOf = async (name: string): Promise<string> =>
      (
        await call()
          .post(api(`/jobs/${job}/sets`))
          .send({ name })
          .expect(201)
      ).body.id as string
    const read = async (set: string, afr: number): Promise<void> => {
      const round = (off: number) =>
        [3000, 4500, 6000, 7500].map((rpm) => ({ rpm, load: 40, readings: [(afr + off + rpm / 9000).toFixed(1)] }))
      await send(job, { set, readings: [...round(0), ...round(0.1)] }).expect(201)
    }
    const [first, second] = [await setOf('As it came'), await setOf('Open lid')]
    await read(first, 12.6)
    await read(second, 13.3)
    const ask = (quantity: string) =>
      call()
        .post(api(`/jobs/${job}/compare`))
        .send({ first: [first], second, stop: 40, quantity })
    const { body } = await ask('lambda').expect(200)
    expect([body.first.runs, body.second.runs]).toEqual([2, 2])
    const told = (body.comparison.difference as (number | null)[]).flatMap((one) => (one === null ? [] : [one]))
    expect(told.length).toBeGreaterThan(40)
    for (const one of told) expect(Math.abs(one - 0.7 / 14.7)).toBeLessThan(0.01)
    // A gauge tells no torque.
    await ask('torque').expect(422)
  })
  it('that make no sense are refused cell by cell, and nothing is stored', async () => {
    const job = await newJob()
    const { body } = await send(job, {
      readings: [
        { rpm: 3000, load: 20, readings: ['lean'] },
        { rpm: 90000, load: 20, readings: ['13'] },
      ],
    }).expect(400)
    expect(body.errors.map((one: { field: string }) => one.field)).toEqual([
      'readings[0].readings[0]',
      'readings[1].rpm',
    ])
    expect((await call().get(api(`/jobs/${job}/runs`))).body).toEqual([])
  })
})
