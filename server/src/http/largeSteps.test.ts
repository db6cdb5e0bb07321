import type { TableInfo } from '@yuzumix/core'
import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

const FUEL = {
  kind: 'fuel base',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [2000, 4000, 6000],
  load: [20, 60, 80],
  values: [50, 50, 50].map((value) => [value, value, value]),
}
const times = (factor: number, only?: [number, number]): number[][] =>
  FUEL.values.map((row, r) => row.map((cell, k) => (only && (r !== only[0] || k !== only[1]) ? cell : cell * factor)))
/** A hold log about one point, at that lambda. */
const hold = (lambda: number, rpm: number, throttle: number, seed: number): string =>
  `time,rpm,throttle,lambda\n${Array.from({ length: 400 }, (_, i) => `${i / 50},${rpm + 12 * Math.sin(i / 7 + seed)},${throttle},${(lambda + 0.003 * Math.sin(1.7 * i + seed)).toFixed(4)}`).join('\n')}\n`

async function jobWithTable(table: object = FUEL): Promise<{ job: string; table: string }> {
  const job = await server.newJob()
  const { body } = await server
    .call()
    .post(api(`/jobs/${job}/tables`))
    .send({ name: 'Fuel', table })
    .expect(201)
  return { job, table: (body as TableInfo).id }
}
const save = (job: string, table: string, values: number[][], parent: number, more: object = {}) =>
  server
    .call()
    .post(api(`/jobs/${job}/tables/${table}/revisions`))
    .send({ values, parent, reason: 'a try', ...more })
const entries = async (job: string): Promise<{ act: string; text: string }[]> =>
  (await server.call().get(api(`/jobs/${job}/entries`))).body as { act: string; text: string }[]

describe('large steps of fuel', () => {
  it('are refused with the cells named, and taken with a reason that is kept', async () => {
    const { job, table } = await jobWithTable()
    const refused = await save(job, table, times(0.6, [2, 1]), 1).expect(409)
    expect(refused.body).toMatchObject({ title: 'A large step of fuel' })
    expect(refused.body.detail).toMatch(
      /1 cell moves far from revision 1: 4\s000 rpm, load 80: −40.0 %, at most −2.5 %/,
    )
    expect(refused.body.errors).toEqual([
      { field: 'override', message: 'say why it must be, this once' },
      { field: 'values[2][1]', message: '4\u202f000 rpm, load 80: −40.0 %, at most −2.5 %' },
    ])
    expect((await server.call().get(api(`/jobs/${job}/tables/${table}`))).body.revisions).toHaveLength(1)
    const taken = await save(job, table, times(0.6, [2, 1]), 1, {
      override: 'A typing error of the last owner',
    }).expect(201)
    expect(taken.body.revisions.at(-1)).toMatchObject({ n: 2, override: 'A typing error of the last owner' })
    expect((await entries(job)).find((one) => one.act === 'large step of fuel')!.text).toMatch(
      /^Fuel, revision 2: A typing error of the last owner \(1 cell moves far from revision 1/,
    )
  })
  it('ten small saves do not pass for one, until a run rests on what was saved', async () => {
    const { job, table } = await jobWithTable()
    await save(job, table, times(0.965, [0, 0]), 1).expect(201)
    await save(job, table, times(0.93, [0, 0]), 2).expect(409)
    await server.upload(job, hold(0.9, 2000, 20, 1)).expect(201)
    await save(job, table, times(0.93, [0, 0]), 2).expect(201)
    await save(job, table, times(0.9, [0, 0]), 3).expect(409)
  })
  it('much richer is asked for, a quarter is not', async () => {
    const { job, table } = await jobWithTable()
    await save(job, table, times(1.25), 1).expect(201)
    expect((await save(job, table, times(1.27), 2).expect(409)).body.detail).toMatch(/9 cells .*\+27.0 %.*and 3 more/)
  })
  it('a cell that reads lean already may not be leaned by 3 %, though its load is small', async () => {
    const { job, table } = await jobWithTable()
    for (const seed of [1, 2, 3]) await server.upload(job, hold(1.02, 4000, 60, seed)).expect(201)
    expect((await save(job, table, times(0.97, [1, 1]), 1).expect(409)).body.detail).toMatch(/at most −2.5 %/)
    await save(job, table, times(0.97, [0, 0]), 1).expect(201)
  })
  it('a declared change of hardware is taken out, and stands in the logbook', async () => {
    const { job, table } = await jobWithTable()
    await save(job, table, times(0.8), 1).expect(409)
    const hardware = { what: 'Injectors a quarter larger', factor: 0.8 }
    // Nothing has measured that factor.
    const asked = await save(job, table, times(0.8), 1, { hardware }).expect(409)
    expect(asked.body.errors[1]).toMatchObject({ field: 'hardware.factor' })
    await save(job, table, times(0.8), 1, { hardware, override: 'flow bench sheet' }).expect(201)
    expect((await entries(job)).find((one) => one.act === 'hardware changed')!.text).toMatch(
      /Injectors a quarter larger, times 0.8/,
    )
  })
  it('another global trim is a step of every cell', async () => {
    const { job, table } = await jobWithTable({ ...FUEL, kind: 'fuel trim', composition: 'add', values: times(0) })
    await save(job, table, times(0), 1, { global: -6 }).expect(409)
    const saved = await save(job, table, times(0), 1, { global: 4 }).expect(201)
    expect(saved.body.table.global).toBe(4)
    const next = await save(job, table, times(0.02), 2).expect(201)
    expect(next.body.table.global).toBe(4)
  })
  it('can be asked about before saving; nothing is stored', async () => {
    const { job, table } = await jobWithTable()
    const check = (values: number[][]) =>
      server
        .call()
        .post(api(`/jobs/${job}/tables/${table}/revisions/check`))
        .send({ values, parent: 1, reason: 'a try' })
        .expect(200)
    expect((await check(times(1.1))).body).toEqual({ steps: [], from: 'revision 1', text: '' })
    const { body } = await check(times(0.5, [0, 0]))
    expect(body.steps).toEqual([{ row: 0, column: 0, rpm: 2000, load: 20, size: -50, limit: -4, unit: '%' }])
    expect(body.text).toMatch(/Go in small steps/)
    expect((await server.call().get(api(`/jobs/${job}/tables/${table}`))).body.revisions).toHaveLength(1)
  })
})

describe('at the write to the bench', () => {
  const put = async (job: string) =>
    (
      await server
        .call()
        .put(api(`/jobs/${job}/bench`))
        .send({ maker: 'simulated', machine: 'curlew-437-short-silencer', speed: 4, coolantC: 84 })
        .expect(201)
    ).body.tables[0].table as { rpm: number[]; load: number[]; values: number[][] }
  const write = (job: string, values: number[][], more: object = {}) =>
    server
      .call()
      .post(api(`/jobs/${job}/bench/tables/base`))
      .send({ values, ...more })
  const scaled = (values: number[][], factor: number): number[][] =>
    values.map((row) => row.map((cell) => cell * factor))

  it('a large step is refused, with a reason it is taken and logged; many small ones do not pass either', async () => {
    const job = await server.newJob()
    const { values } = await put(job)
    expect((await write(job, scaled(values, 0.6)).expect(409)).body).toMatchObject({ title: 'A large step of fuel' })
    await write(job, scaled(values, 0.98)).expect(200)
    expect((await write(job, scaled(values, 0.95)).expect(409)).body.detail).toMatch(/at the last run/)
    await write(job, scaled(values, 0.95), { override: 'Known good on its twin' }).expect(200)
    expect((await entries(job)).find((one) => one.act === 'large step of fuel')!.text).toMatch(
      /written to the bench: Known good/,
    )
  })
  it('a table made of anything is judged by what is in the controller; a revision with a reason is not asked about twice', async () => {
    const job = await server.newJob()
    const table = await put(job)
    const made = await server
      .call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name: 'From a file', table: { ...FUEL, ...table, values: scaled(table.values, 0.6) } })
      .expect(201)
    await write(job, scaled(table.values, 0.6)).expect(409)
    const next = scaled(table.values, 0.4)
    await save(job, made.body.id as string, next, 1, { override: 'A smaller engine' }).expect(201)
    await write(job, next).expect(200)
  })
})

describe('the revision a run was made on', () => {
  it('is the latest at import, can be changed in its panel, and is kept', async () => {
    const { job, table } = await jobWithTable()
    const run = (await server.upload(job, hold(0.95, 4000, 60, 1)).expect(201)).body
    expect(run.revisions).toEqual({ [table]: 1 })
    await save(job, table, times(1.05), 1).expect(201)
    expect((await server.upload(job, hold(0.93, 4000, 60, 2)).expect(201)).body.revisions).toEqual({ [table]: 2 })
    const bind = (n: unknown, why?: string) =>
      server
        .call()
        .patch(api(`/jobs/${job}/runs/${run.id}`))
        .send({ revisions: { [table]: n }, ...(why && { override: why }) })
    expect((await bind(2).expect(409)).body.errors[0]).toMatchObject({ field: 'override' })
    expect((await bind(2, 'made on it, saved late').expect(200)).body.revisions).toEqual({ [table]: 2 })
    expect((await bind(7).expect(400)).body.errors[0]).toMatchObject({ field: 'revisions' })
    await bind('2').expect(400)
    await server.restart()
    expect((await server.call().get(api(`/jobs/${job}/runs/${run.id}`))).body.revisions).toEqual({ [table]: 2 })
  })
  it('goes with the job into its archive, and comes back', async () => {
    const { job, table } = await jobWithTable()
    await save(job, table, times(1.05), 1).expect(201)
    const { body: run } = await server.upload(job, hold(0.95, 4000, 60, 1)).expect(201)
    await server
      .call()
      .patch(api(`/jobs/${job}/runs/${run.id}`))
      .send({ revisions: { [table]: 1 } })
      .expect(200)
    const { asBytes } = await import('../testServer')
    const { body: zip } = await server
      .call()
      .get(api(`/jobs/${job}/archive`))
      .buffer(true)
      .parse(asBytes)
    const { body: copy } = await server
      .call()
      .post(api('/archives'))
      .attach('file', zip as Buffer, 'a.zip')
      .expect(201)
    const [table2] = (await server.call().get(api(`/jobs/${copy.id}/tables`))).body as TableInfo[]
    const [again] = (await server.call().get(api(`/jobs/${copy.id}/runs`))).body
    expect(again.revisions).toEqual({ [table2!.id]: 1 })
  })
  it('a change is made of the runs on the newest revision, and tells what is in the table already', async () => {
    const { job, table } = await jobWithTable()
    for (const seed of [1, 2, 3]) await server.upload(job, hold(0.99, 4000, 60, seed)).expect(201)
    const change = async () =>
      (
        await server
          .call()
          .post(api(`/jobs/${job}/change`))
          .send({ table, target: 0.9 })
          .expect(200)
      ).body
    const first = await change()
    expect(first.measuredOn).toEqual({ revision: 1, latest: 1, changedCells: 0, olderRuns: [] })
    expect(first.nodes[1][1].changePct).toBeGreaterThan(9)
    await save(job, table, first.values as number[][], 1).expect(201)
    const left = await change()
    const changed = first.nodes.flat().filter((node: { changePct: number }) => node.changePct !== 0).length
    expect(left.measuredOn).toMatchObject({ revision: 1, latest: 2, changedCells: changed })
    expect(Math.abs(left.nodes[1][1].changePct)).toBeLessThan(0.5)
    expect(left.predicted[1][1]).toBeCloseTo(0.9, 2)
    const { body: late } = await server.upload(job, hold(0.92, 4000, 60, 4)).expect(201)
    const next = await change()
    expect(next.measuredOn).toMatchObject({ revision: 2, latest: 2 })
    expect(next.measuredOn.olderRuns).toHaveLength(3)
    expect(next.field.runs.map((run: { id: string }) => run.id)).toEqual([late.id])
    // The field that nobody named runs for stands on the same.
    const { body: field } = await server
      .call()
      .post(api(`/jobs/${job}/field`))
      .send({ target: 0.9 })
      .expect(200)
    expect(field.runs.map((run: { id: string }) => run.id)).toEqual([late.id])
  })
})
