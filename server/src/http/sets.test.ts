import type { RunInfo } from '@yuzumix/core'
import { api, CSV, testServer, type TestServer } from '../testServer'
import { testSets } from '../testSets'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const call = () => server.call()
const newJob: TestServer['newJob'] = (...args) => server.newJob(...args)
const upload: TestServer['upload'] = (...args) => server.upload(...args)
const { pull, newSet, setsOf } = testSets(() => server)

describe('sets', () => {
  it('the first run makes the first set; later runs go to the newest, or where they are sent', async () => {
    const job = await newJob()
    await pull(job, 1)
    const [first] = await setsOf(job)
    expect(first).toMatchObject({ name: 'Baseline', runCount: 1, weather: null, drumWindow: 0.4 })
    const second = await newSet(job, { name: 'Baffle out', setup: 'Short silencer, baffle out', gear: 4 })
    expect((await pull(job, 2)).body).toMatchObject({ set: second.id })
    const third = (await pull(job, 3, {}, first!.id)).body as RunInfo
    expect(third.set).toBe(first!.id)
    const moved = await call()
      .patch(api(`/jobs/${job}/runs/${third.id}`))
      .send({ set: second.id })
      .expect(200)
    expect(moved.body).toMatchObject({ set: second.id })
    expect((await setsOf(job)).map((one) => one.runCount)).toEqual([1, 2])
    expect((await call().get(api('/sets'))).body.length).toBeGreaterThanOrEqual(2)
  })
  it('hold the weather and how it was measured; the place of the sensor goes with the runs; a restart keeps it', async () => {
    const job = await newJob()
    await pull(job, 1)
    const [set] = await setsOf(job)
    const change = {
      weather: { temperatureC: 24, pressureKpa: 99.4, humidityPct: 50 },
      sensorPlace: 'tailpipe',
      inertia: 12.5,
    }
    await call()
      .patch(api(`/jobs/${job}/sets/${set!.id}`))
      .send(change)
      .expect(200)
    await server.restart()
    expect((await setsOf(job))[0]).toMatchObject(change)
    const [run] = (await call().get(api(`/jobs/${job}/runs`))).body as RunInfo[]
    expect(run!.sensorPlace).toBe('tailpipe')
    const entries = (await call().get(api(`/jobs/${job}/entries`))).body as { act: string }[]
    expect(entries.map((one) => one.act)).toContain('set changed')
  })
  it('refuse what makes no sense, by field, and keep what was there', async () => {
    const job = await newJob()
    await pull(job, 1)
    const [set] = await setsOf(job)
    const cases: [object, string, RegExp][] = [
      [
        { weather: { temperatureC: 24, pressureKpa: 1013, humidityPct: 50 } },
        'weather.pressureKpa',
        /1013 hPa is 101.3 kPa/,
      ],
      [{ weather: { temperatureC: 240, pressureKpa: 101, humidityPct: 50 } }, 'weather.temperatureC', /-30 to 55/],
      [{ inertia: 0 }, 'inertia', /above zero/],
      [{ gear: 0 }, 'gear', /1/],
      [{ rigg: 'x' }, 'rigg', /not known here/],
      [
        {
          figures: {
            quantity: 'torque',
            correction: 'none',
            rpm: [3000, 2000],
            mean: [1, 2],
            spread: [0, 0],
            machines: 3,
          },
        },
        'figures.rpm',
        /rise/,
      ],
      [
        {
          figures: {
            quantity: 'torque',
            correction: 'none',
            rpm: [2000, 3000],
            mean: [1],
            spread: [0, 0],
            machines: 3,
          },
        },
        'figures',
        /one length/,
      ],
    ]
    for (const [body, field, message] of cases) {
      const { body: problem } = await call()
        .patch(api(`/jobs/${job}/sets/${set!.id}`))
        .send(body)
        .expect(400)
      expect(problem.errors).toEqual([{ field, message: expect.stringMatching(message) as string }])
    }
    expect((await setsOf(job))[0]).toEqual(set)
    await call()
      .patch(api(`/jobs/${job}/sets/none`))
      .send({ gear: 3 })
      .expect(404)
    await upload(job, CSV, { set: 'none' }).expect(400)
  })
  it('go only when they are empty', async () => {
    const job = await newJob()
    await pull(job, 1)
    const [set] = await setsOf(job)
    const { body } = await call()
      .delete(api(`/jobs/${job}/sets/${set!.id}`))
      .expect(409)
    expect(body.detail).toMatch(/"Baseline" has 1 runs. Move them/)
    const empty = await newSet(job, { name: 'Mistake' })
    await call()
      .delete(api(`/jobs/${job}/sets/${empty.id}`))
      .expect(204)
    await call()
      .delete(api(`/jobs/${job}/sets/${empty.id}`))
      .expect(404)
  })
})

describe('runs', () => {
  it('tell what they are, and tell it anew when their kind is changed', async () => {
    const job = await newJob()
    const { body: run } = (await pull(job, 1)) as { body: RunInfo }
    expect(run).toMatchObject({ kind: 'sweep', facts: { stop: 100, gear: null, weather: null }, leftOut: null })
    const { body: road } = await call()
      .patch(api(`/jobs/${job}/runs/${run.id}`))
      .send({ kind: 'road' })
    expect(road.facts.stop).toBeNull()
  })
  it('are left out as a whole or in a band, with the reason kept in run and logbook', async () => {
    const job = await newJob()
    const { body: run } = (await pull(job, 1)) as { body: RunInfo }
    const leave = (leftOut: unknown) =>
      call()
        .patch(api(`/jobs/${job}/runs/${run.id}`))
        .send({ leftOut })
    const band = { fromRpm: 5000, toRpm: 6000, reason: 'Belt slipped' }
    expect((await leave(band).expect(200)).body.leftOut).toEqual(band)
    await leave({ fromRpm: 6000, toRpm: 5000, reason: 'x' }).expect(400)
    await leave({ fromRpm: null, toRpm: null, reason: '' }).expect(400)
    const whole = { fromRpm: null, toRpm: null, reason: 'Cold' }
    expect((await leave(whole).expect(200)).body.leftOut).toEqual(whole)
    const field = await call()
      .post(api(`/jobs/${job}/field`))
      .send({})
    expect(field.status).toBe(422)
    expect((await leave(null).expect(200)).body.leftOut).toBeNull()
    const entries = (await call().get(api(`/jobs/${job}/entries`))).body as { act: string; text: string }[]
    expect(entries.map((one) => `${one.act} ${one.text}`)).toEqual(
      expect.arrayContaining([
        'left out 5\u202f000 to 6\u202f000 rpm pull 1: Belt slipped',
        'run left out pull 1: Cold',
      ]),
    )
  })
  it('a field stands on one set: the newest with a mixture, or the one the job chose', async () => {
    const job = await newJob()
    await pull(job, 1, { lambda: () => 0.95 })
    await pull(job, 2, { lambda: () => 0.95 })
    const second = await newSet(job, { name: 'Corrected' })
    await pull(job, 3, { lambda: () => 0.86 })
    const used = async (): Promise<number> =>
      (
        await call()
          .post(api(`/jobs/${job}/field`))
          .send({ target: 0.88, lagMs: 0 })
          .expect(200)
      ).body.runs.length as number
    expect(await used()).toBe(1)
    const { mixture } = (await call().get(api(`/jobs/${job}`))).body
    const [first] = await setsOf(job)
    await call()
      .patch(api(`/jobs/${job}`))
      .send({ mixture: { ...mixture, set: first!.id } })
      .expect(200)
    expect(await used()).toBe(2)
    expect(second.id).not.toBe(first!.id)
  })
})
