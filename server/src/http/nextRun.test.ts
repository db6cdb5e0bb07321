import { asCsv, GRID, knownCase, knownRuns } from '../../../core/trials/knownTruthLog'
import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

const TABLE = {
  kind: 'fuel base',
  composition: 'multiply',
  ...GRID,
  values: GRID.load.map(() => GRID.rpm.map(() => 10)),
}
const ask = (job: string, body: object = {}) =>
  server
    .call()
    .post(api(`/jobs/${job}/next-run`))
    .send({ rpm: [3000, 8500], load: [10, 100], ...body })
const tableOf = async (job: string): Promise<string> =>
  (
    await server
      .call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name: 'Fuel', table: TABLE })
      .expect(201)
  ).body.id

describe('the next run over HTTP', () => {
  it('goes from nothing to enough, and on from the table after a correction', async () => {
    const job = await server.newJob({ title: 'Few runs' })
    const table = await tableOf(job)
    const nothing = (await ask(job, { table }).expect(200)).body
    expect(nothing).toMatchObject({ enough: false, next: { kind: 'sweep' } })
    expect(nothing.typicalPct).toBeGreaterThan(5)

    const c = knownCase(7, { held: [], misfire: null, stops: [10, 20, 40, 60, 80, 100], repeats: 2 })
    for (const run of knownRuns(c)) await server.upload(job, asCsv(run)).expect(201)
    const known = (await ask(job, { table, target: 0.9, wanted: { typicalPct: 1, worstPct: 6 } }).expect(200)).body
    expect(known.typicalPct).toBeLessThan(1)
    expect(known).toMatchObject({ enough: true, next: null })

    const change = (
      await server
        .call()
        .post(api(`/jobs/${job}/change`))
        .send({ table, target: 0.9 })
        .expect(200)
    ).body
    await server
      .call()
      .post(api(`/jobs/${job}/tables/${table}/revisions`))
      .send({ values: change.values, reason: 'taken', parent: 1 })
      .expect(201)
    // No new run: the old ones, taken as they would read now, say that it is flat but for what the limits left.
    const after = (await ask(job, { table, target: 0.9, wanted: { typicalPct: 1, worstPct: 6 } }).expect(200)).body
    expect(after.enough).toBe(true)
    expect(Math.abs(after.typicalPct - known.typicalPct)).toBeLessThan(1)
  })
  it('never goes above the rev ceiling of the brief', async () => {
    const job = await server.newJob({ title: 'Tired springs', limits: { revCeiling: 7000 } })
    await ask(job, { rpm: [3000, 9000] }).expect(400)
    const { next } = (await ask(job, { rpm: [3000, 7000] }).expect(200)).body
    expect(Math.max(next.fromRpm, next.toRpm)).toBeLessThanOrEqual(7000)
    const usual = (
      await server
        .call()
        .post(api(`/jobs/${job}/next-run`))
        .send({})
        .expect(200)
    ).body.next
    expect(Math.max(usual.fromRpm, usual.toRpm)).toBeLessThanOrEqual(7000)
  })
  it('refuses a table that is not there and a range that does not rise', async () => {
    const job = await server.newJob({ title: 'Refused' })
    await ask(job, { table: 'none' }).expect(400)
    await ask(job, { rpm: [8000, 3000] }).expect(400)
    await ask(job, { rpm: [8000] }).expect(400)
    await ask(job, { typicalPct: 1 }).expect(400)
  })
})

describe('what the next run and the field of a job stand on', () => {
  it('are the same runs, and one lag, though the second pass alone tells none', async () => {
    const job = await server.newJob({ title: 'Two passes' })
    const table = await tableOf(job)
    const field = async (): Promise<{ lagMs: number; lag: { from: string }; runs: unknown[] }> =>
      (
        await server
          .call()
          .post(api(`/jobs/${job}/field`))
          .send({})
          .expect(200)
      ).body
    const first = knownCase(7, { held: [], misfire: null, delay: 0.22, stops: [20, 40, 60, 80], repeats: 2 })
    for (const run of knownRuns(first)) await server.upload(job, asCsv(run)).expect(201)
    const alone = await field()
    expect(alone.lag.from).toBe('estimated')
    const values = GRID.load.map(() => GRID.rpm.map(() => 10.4))
    await server
      .call()
      .post(api(`/jobs/${job}/tables/${table}/revisions`))
      .send({ values, reason: 'richer all over', parent: 1 })
      .expect(201)
    // From their stop on, in one direction: nothing in them tells the lag.
    const next = knownRuns(knownCase(8, { ...first, seed: 8, tipIn: 0, stops: [40, 60], repeats: 3 }))
    for (const run of next) {
      const [from, to] = [run.time.length * 0.25, run.time.length * 0.7].map(Math.round) as [number, number]
      const part = Object.fromEntries(
        Object.entries(run).map(([key, value]) => [
          key,
          value instanceof Float32Array
            ? value.slice(from, to)
            : Array.isArray(value)
              ? value.map((one: Float32Array) => one.slice(from, to))
              : value,
        ]),
      ) as typeof run
      await server.upload(job, asCsv(part)).expect(201)
    }
    const now = await field()
    const { from } = (await ask(job).expect(200)).body
    expect(from).toMatchObject({ runs: 14, own: 6 })
    expect(now.runs).toHaveLength(6)
    expect(now.lag.from).toBe('estimated')
    expect(Math.abs(now.lagMs - alone.lagMs)).toBeLessThan(30)
    expect(Math.abs(1000 * from.lag - now.lagMs)).toBeLessThan(1)
  })
})
