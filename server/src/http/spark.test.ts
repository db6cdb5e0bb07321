import { DEFAULT_SPARK_SETTINGS, verdictOf, type Comparison } from '@yuzumix/core'
import { api, asBytes, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

const SPARK = {
  kind: 'spark base',
  composition: 'add',
  loadAxis: 'throttle',
  rpm: [2000, 4000, 6000],
  load: [20, 100],
  values: [
    [20, 22, 24],
    [18, 20, 22],
  ],
}
const FUEL = { ...SPARK, kind: 'fuel base', composition: 'multiply', values: [40, 60].map((v) => [v, v, v]) }

/** A sweep at 100 % whose torque is so many percent of a plain one; it wanders a little, so that no two are alike. */
function sweep(percent: number, seed: number, spark?: number): string {
  const lines = Array.from({ length: 400 }, (_, i) => {
    const t = i / 50
    const rpm = 2200 + 450 * t
    const torque = ((40 * percent) / 100) * (1 + 0.0004 * Math.sin(seed + i))
    return [
      t,
      rpm.toFixed(0),
      100,
      (0.88 + 0.001 * seed).toFixed(3),
      torque.toFixed(2),
      ...(spark === undefined ? [] : [spark]),
    ].join(',')
  })
  return `Time (s),Engine speed (rpm),Throttle (%),Lambda,Torque (N·m)${spark === undefined ? '' : ',Spark advance (°)'}\n${lines.join('\n')}\n`
}
/** A held point of 12 s at 60 %, 4,000 rpm. */
function hold(): string {
  const lines = Array.from({ length: 600 }, (_, i) =>
    [i / 50, 4000, 60, 0.9, 40, 20 + 3 * Math.floor(i / 200)].join(','),
  )
  return `Time (s),Engine speed (rpm),Throttle (%),Lambda,Torque (N·m),Spark advance (°)\n${lines.join('\n')}\n`
}
const newTable = async (job: string, table: object, name: string): Promise<string> =>
  (
    await server
      .call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name, table })
      .expect(201)
  ).body.id as string

describe('one setting of the spark for a whole run', () => {
  it('is kept with the run, written in the logbook, and comes back out of an archive', async () => {
    const job = await server.newJob()
    const run = (await server.upload(job, sweep(100, 1)).expect(201)).body
    expect(run).toMatchObject({ setting: null, facts: { spark: null } })
    const setting = { advance: 12, knock: true }
    const said = await server
      .call()
      .patch(api(`/jobs/${job}/runs/${run.id}`))
      .send({ setting })
      .expect(200)
    expect(said.body.setting).toEqual(setting)
    const entries = (await server.call().get(api(`/jobs/${job}/entries`))).body as { act: string; text: string }[]
    expect(entries.find((one) => one.act === 'spark setting')!.text).toMatch(/12°, knock was heard/)
    await server.restart()
    expect((await server.call().get(api(`/jobs/${job}/runs`))).body[0].setting).toEqual(setting)

    const archive = await server
      .call()
      .get(api(`/jobs/${job}/archive`))
      .parse(asBytes)
      .expect(200)
    const again = await server
      .call()
      .post(api('/archives'))
      .attach('file', archive.body as Buffer, 'job.zip')
      .expect(201)
    const [back] = (await server.call().get(api(`/jobs/${again.body.id}/runs`))).body as {
      setting: object
      createdAt: string
    }[]
    expect(back).toMatchObject({ setting, createdAt: run.createdAt })
    await server
      .call()
      .patch(api(`/jobs/${job}/runs/${run.id}`))
      .send({ setting: null })
      .expect(200)
  })
  it.each([
    [{ advance: -28, knock: false }, 'setting.advance', /Check the sign/],
    [{ advance: 200, knock: false }, 'setting.advance', /more advance than any engine/],
    [{ advance: 20 }, 'setting.knock', /missing/],
    [{ advance: 20, knock: false, more: 1 }, 'setting.more', /not known/],
  ])('%o is refused by the name of its field', async (setting, field, words) => {
    const job = await server.newJob()
    const run = (await server.upload(job, sweep(100, 2)).expect(201)).body.id as string
    const answer = await server
      .call()
      .patch(api(`/jobs/${job}/runs/${run}`))
      .send({ setting })
      .expect(400)
    expect(answer.body.errors[0]).toMatchObject({ field, message: expect.stringMatching(words) as string })
  })
})

describe('settings compared', () => {
  it('sweeps of one set at two settings: a difference by rpm, the sides called by their settings', async () => {
    const job = await server.newJob()
    for (const [k, advance] of [8, 8, 8, 12, 12, 12].entries()) {
      const text = sweep(advance === 8 ? 100 + 0.2 * k : 103 + 0.2 * k, k, advance)
      const run = (await server.upload(job, text).expect(201)).body
      expect(run.facts.spark).toBe(advance)
    }
    const [set] = (await server.call().get(api(`/jobs/${job}/sets`))).body as { id: string }[]
    const ask = (settings: object) =>
      server
        .call()
        .post(api(`/jobs/${job}/compare`))
        .send({ first: [set!.id], second: set!.id, stop: 100, quantity: 'torque', settings })
    const { body } = await ask({ first: 8, second: 12 }).expect(200)
    expect(body).toMatchObject({ first: { name: '8.0°', runs: 3 }, second: { name: '12.0°', runs: 3 } })
    const told = body.comparison.difference.filter((value: number | null) => value !== null)
    expect(told.reduce((sum: number, value: number) => sum + value, 0) / told.length).toBeCloseTo(1.4, 0)
    await ask({ first: 8, second: 8 }).expect(400)
    await ask({ first: 8, second: 30 }).expect(422)
    await ask({ first: 8, second: 400 }).expect(400)
  })
})

describe('maps, or springs of the advance weights, compared', () => {
  /** Two sets of three sweeps at 12° each, as made on these rigs. */
  async function twoSets(rigs: [string, string], percent: [number, number]): Promise<{ job: string; ids: string[] }> {
    const job = await server.newJob()
    const ids: string[] = []
    for (const [k, rig] of rigs.entries()) {
      const made = await server
        .call()
        .post(api(`/jobs/${job}/sets`))
        .send({ name: `Map ${k + 1}`, rig })
        .expect(201)
      ids.push(made.body.id as string)
      for (const n of [0, 1, 2])
        await server
          .upload(job, sweep(percent[k]! + 0.2 * n, 10 * k + n, 12), { set: made.body.id as string })
          .expect(201)
    }
    return { job, ids }
  }
  const ask = (job: string, ids: string[], more: object = {}) =>
    server
      .call()
      .post(api(`/jobs/${job}/compare`))
      .send({ first: [ids[0]], second: ids[1], stop: 100, quantity: 'torque', rate: 0.03, ...more })
  it('made on different rigs they are refused with words, unless somebody accepts it', async () => {
    const { job, ids } = await twoSets(['Drum', 'Brake'], [100, 100])
    const { body } = await ask(job, ids).expect(422)
    expect(body.refused[0]).toMatchObject({ what: 'rig' })
    expect(body.refused[0].message).toMatch(/Drum.*Brake/)
    await ask(job, ids, { accept: ['rig'] }).expect(200)
  })
  it('alike in truth no difference is shown, and four percent are seen', async () => {
    const alike = await twoSets(['Drum', 'Drum'], [100, 100.05])
    const settings = { first: null, second: 12 }
    const same = (await ask(alike.job, alike.ids, { settings }).expect(200)).body
    expect(same.second.name).toBe('Map 2, 12.0°')
    expect(verdictOf(same.comparison).verdict).toBe('no difference shown')
    const better = await twoSets(['Drum', 'Drum'], [100, 104])
    const found = verdictOf((await ask(better.job, better.ids).expect(200)).body.comparison as Comparison)
    expect(found.verdict).toBe('more')
    expect(found.spans[0]!.difference).toBeCloseTo(1.6, 0)
  })
})

describe('spark tables', () => {
  const revise = (job: string, table: string, values: number[][], parent: number, more: object = {}) =>
    server
      .call()
      .post(api(`/jobs/${job}/tables/${table}/revisions`))
      .send({ values, parent, reason: 'a try', ...more })
  it('a large step is refused with words, and taken with a reason that is kept', async () => {
    const job = await server.newJob()
    const table = await newTable(job, SPARK, 'Spark')
    const large = SPARK.values.map((row) => row.map((value) => value + 3))
    const refused = await revise(job, table, large, 1).expect(409)
    expect(refused.body).toMatchObject({
      title: 'A large step of advance',
      detail: expect.stringMatching(/^6 cells move far from revision 1: .*\+3.0 °, at most \+1.5 °.*knock/) as string,
    })
    expect((await server.call().get(api(`/jobs/${job}/tables/${table}`))).body.revisions).toHaveLength(1)
    const taken = await revise(job, table, large, 1, { override: 'Retarded by mistake before' }).expect(201)
    expect(taken.body.revisions.at(-1)).toMatchObject({ n: 2, override: 'Retarded by mistake before' })
    const entries = (await server.call().get(api(`/jobs/${job}/entries`))).body as { act: string; text: string }[]
    expect(entries.find((one) => one.act === 'large step of spark')!.text).toMatch(/revision 2: Retarded by mistake/)
    // Further the same way is asked about again until something was measured; on the way back nothing is asked, or kept.
    const shifted = (by: number) => SPARK.values.map((row) => row.map((value) => value + by))
    await revise(job, table, shifted(4), 2).expect(409)
    const next = await revise(job, table, shifted(2), 2, { override: 'not needed' }).expect(201)
    expect(next.body.revisions.at(-1).override).toBeNull()
    await server.upload(job, hold()).expect(201)
    await revise(job, table, shifted(3), 3).expect(201)
  })
  it('what moved since a time is told by its states', async () => {
    const job = await server.newJob()
    const table = await newTable(job, SPARK, 'Spark')
    const between = new Date(Date.now() + 1).toISOString()
    await new Promise((done) => setTimeout(done, 5))
    await revise(
      job,
      table,
      SPARK.values.map((row) => row.map((value) => value + 1)),
      1,
    ).expect(201)
    const since = (at: string) =>
      server
        .call()
        .get(api(`/jobs/${job}/tables/histories`))
        .query({ since: at })
    const [history] = (await since(between).expect(200)).body
    expect(history.states.map((one: { n: number }) => one.n)).toEqual([1, 2])
    const [now] = (await since(new Date(Date.now() + 1000).toISOString()).expect(200)).body
    expect(now.states).toHaveLength(1)
    expect((await since('yesterday').expect(400)).body.errors[0].field).toBe('since')
  })
  it('mixture moved: the plan asks for the spark steps again, until they were made', async () => {
    const job = await server.newJob()
    const fuel = await newTable(job, FUEL, 'Fuel')
    const run = (await server.upload(job, hold()).expect(201)).body
    expect(run.kind).toBe('spark step')
    const again = async (): Promise<object[]> =>
      (
        await server
          .call()
          .get(api(`/jobs/${job}/rechecks`))
          .expect(200)
      ).body
    expect(await again()).toEqual([])
    await new Promise((done) => setTimeout(done, 5))
    await revise(
      job,
      fuel,
      FUEL.values.map((row) => row.map((value) => value * 1.05)),
      1,
    ).expect(201)
    expect(await again()).toEqual([
      {
        what: 'spark',
        stop: 60,
        fromRpm: 4000,
        toRpm: 4000,
        moved: expect.closeTo(5, 3) as number,
        since: expect.any(String) as string,
      },
    ])
    expect((await server.call().get(api(`/jobs/${job}/plan`))).body.again).toEqual(await again())
    await new Promise((done) => setTimeout(done, 5))
    await server.upload(job, hold(), { again: 'true' }).expect(201)
    expect(await again()).toEqual([])
  })
})

describe('choices of the spark stage', () => {
  it('are kept with the job', async () => {
    const job = await server.newJob({ title: 'Avocet', spark: DEFAULT_SPARK_SETTINGS })
    await server.restart()
    expect((await server.call().get(api(`/jobs/${job}`))).body.spark).toEqual(DEFAULT_SPARK_SETTINGS)
  })
  const { plan, use } = DEFAULT_SPARK_SETTINGS
  it.each([
    ['one setting only', { plan: { ...plan, below: 0, above: 1 } }, 'spark.plan', /three settings/],
    ['sweeps without a span', { plan: { ...plan, way: 'sweeps', rpm: [4000] } }, 'spark.plan', /two speeds/],
    ['a stop beyond open', { plan: { ...plan, stops: [140] } }, 'spark.plan.stops[0]', /100/],
    ['no use at all', { use: { low: 0, middle: 0, high: 0 } }, 'spark.use', /nothing is used/],
    ['negative use', { use: { ...use, low: -1 } }, 'spark.use.low', /0/],
    ['a present advance after top dead centre', { present: -40 }, 'spark.present', /sign/],
    ['a knock level of nothing', { knockLevel: 0 }, 'spark.knockLevel', /above zero/],
  ])('%s is refused', async (_what, over, field, words) => {
    const answer = await server
      .call()
      .post(api('/jobs'))
      .send({ title: 'Avocet', spark: { ...DEFAULT_SPARK_SETTINGS, ...over } })
      .expect(400)
    expect(answer.body.errors).toContainEqual({ field, message: expect.stringMatching(words) as string })
  })
})
