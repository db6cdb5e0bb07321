import { humpTorque, knownPull, pullAsCsv, recordPull, type KnownPull } from '../../../core/reference/knownPull'
import type { RunInfo, RunSet } from '@yuzumix/core'
import { api, CSV, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const call = () => server.call()
const newJob: TestServer['newJob'] = (...args) => server.newJob(...args)
const upload: TestServer['upload'] = (...args) => server.upload(...args)
const pull = (job: string, seed: number, over: Partial<KnownPull> = {}, set?: string) =>
  upload(job, pullAsCsv(recordPull(knownPull({ seed, ...over }))), {
    name: `pull ${seed}`,
    ...(set && { set }),
  }).expect(201)
const newSet = async (job: string, body: object): Promise<RunSet> =>
  (
    await call()
      .post(api(`/jobs/${job}/sets`))
      .send(body)
      .expect(201)
  ).body as RunSet
const setsOf = async (job: string): Promise<RunSet[]> => (await call().get(api(`/jobs/${job}/sets`))).body as RunSet[]

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

describe('comparing', () => {
  const better = (rpm: number): number => humpTorque(rpm) * (rpm > 6500 ? 1.05 : 1)
  async function twoSets(): Promise<{ job: string; first: string; second: string }> {
    const job = await newJob()
    for (const seed of [1, 2, 3]) await pull(job, seed)
    const { id } = await newSet(job, { name: 'After' })
    for (const seed of [4, 5, 6]) await pull(job, seed, { torque: better })
    return { job, first: (await setsOf(job))[0]!.id, second: id }
  }
  const compare = (job: string, body: object) =>
    call()
      .post(api(`/jobs/${job}/compare`))
      .send(body)
  it('shades where the sets differ, gives gains and says what correction the figures carry', async () => {
    const { job, first, second } = await twoSets()
    const asked = {
      first: [first],
      second,
      stop: 100,
      quantity: 'torque',
      correction: 'none',
      bands: [{ fromRpm: 7000, toRpm: 9000 }],
      at: [8000],
    }
    const { body } = await compare(job, asked).expect(200)
    const at = (rpm: number): number => body.comparison.rpm.indexOf(rpm)
    expect(body.comparison.real[at(8000)]).toBe(true)
    expect(body.comparison.difference[at(8000)]).toBeGreaterThan(1)
    expect(Math.abs(body.gainBegins - 6500)).toBeLessThan(500)
    expect(body.gains.map((one: { what: string }) => one.what)).toEqual([
      'peak',
      'mean over a band',
      'area over a band',
      'at an rpm',
    ])
    expect(body.first).toMatchObject({ name: 'Baseline', runs: 3, correction: 'uncorrected' })
  })
  it('refuses sets that were not measured alike until that is accepted', async () => {
    const { job, first, second } = await twoSets()
    await call()
      .patch(api(`/jobs/${job}/sets/${second}`))
      .send({ rig: 'Town drum', gear: 5 })
      .expect(200)
    const asked = { first: [first], second, stop: 100, quantity: 'power', correction: 'none' }
    const { body } = await compare(job, asked).expect(422)
    expect(body.refused.map((one: { what: string }) => one.what).sort()).toEqual(['gear', 'rig'])
    expect(body.detail).toMatch(/Different rigs: not said and Town drum/)
    const accepted = await compare(job, { ...asked, accept: ['rig', 'gear'] }).expect(200)
    expect(accepted.body.mismatches).toHaveLength(2)
    await compare(job, { ...asked, quantity: 'lambda' }).expect(200)
  })
  it('says what cannot be compared, and refuses nonsense by field', async () => {
    const { job, first, second } = await twoSets()
    const asked = { first: [first], second, stop: 100, quantity: 'torque' }
    expect((await compare(job, { ...asked, stop: 40 }).expect(422)).body.detail).toMatch(/has no runs at this throttle/)
    for (const [over, field] of [
      [{ second: first }, 'second'],
      [{ second: 'none' }, 'second'],
      [{ quantity: 'noise' }, 'quantity'],
      [{ first: [] }, 'first'],
      [{ smoothing: 5 }, 'smoothing'],
    ] as const)
      expect((await compare(job, { ...asked, ...over }).expect(400)).body.errors[0].field).toBe(field)
  })
  it('takes sets of other jobs, several as one reference, or a reference entered as figures', async () => {
    const { job, first, second } = await twoSets()
    const other = await twoSets()
    const { body } = await compare(job, {
      first: [first, other.first],
      second,
      stop: 100,
      quantity: 'torque',
      correction: 'none',
    }).expect(200)
    expect(body.first.name).toBe('2 machines')
    const figures = {
      quantity: 'torque',
      correction: 'none',
      rpm: [3000, 9000],
      mean: [30, 30],
      spread: [1, 1],
      machines: 5,
    }
    const entered = await newSet(job, { name: 'Stock, from the file', figures })
    const compared = await compare(job, {
      first: [entered.id],
      second,
      stop: 100,
      quantity: 'torque',
      correction: 'none',
    }).expect(200)
    expect(compared.body.comparison.first[compared.body.comparison.rpm.indexOf(6000)]).toBe(30)
  })
})

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

it('the air of a weather, by every standard', async () => {
  const { body } = await call()
    .post(api('/air'))
    .send({ temperatureC: 30, pressureKpa: 98.2, humidityPct: 45 })
    .expect(200)
  expect(body.corrections.find((one: { id: string }) => one.id === 'iso-1585').factor).toBeCloseTo(1.04449, 4)
  expect(body.densityAltitudeM).toBeGreaterThan(500)
  await call().post(api('/air')).send({ temperatureC: 30, pressureKpa: 12, humidityPct: 45 }).expect(400)
})
