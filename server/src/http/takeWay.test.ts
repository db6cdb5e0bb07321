import type { RunInfo, TableInfo } from '@yuzumix/core'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { api, asBytes, CSV, testServer, TABLE, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
/** A table of the job with these values, on breakpoints of its own. */
async function addTable(own: string, name: string, table: object): Promise<TableInfo> {
  const { body } = await server
    .call()
    .post(api(`/jobs/${own}/tables`))
    .send({ name, table })
    .expect(201)
  return body as TableInfo
}
/** Straight lines in throttle, the same at every speed. */
const WANTED = {
  rpm: [2000, 4000, 6000, 8000],
  load: [10, 40, 70, 100],
  pct: [0, 3, 6, 9].map((pct) => [pct, pct, pct, pct]),
}
const take = (own: string, body: object) =>
  server
    .call()
    .post(api(`/jobs/${own}/ways/take`))
    .send(body)

describe('POST /jobs/{job}/ways/take', () => {
  it('puts a way in as a table of two states; taken again its numbers come out whole', async () => {
    const own = await server.newJob()
    await server.upload(own, CSV, { name: 'before' }).expect(201)
    const { body } = await take(own, { wanted: WANTED, way: { kind: 'global' } }).expect(201)
    const [table] = body as TableInfo[]
    expect(table!.name).toBe('Global trim')
    expect(table!.revisions.map((one) => one.way?.settings ?? null)).toEqual([null, { pct: 6.9 }])
    expect(table!.table.values.flat().every((one) => one === 6.9)).toBe(true)
    const [run] = (await server.call().get(api(`/jobs/${own}/runs`))).body as RunInfo[]
    expect(run!.revisions[table!.id]).toBe(1)
    // The same wanted again, on top of what is in by now.
    const again = (await take(own, { wanted: WANTED, way: { kind: 'global' } }).expect(201)).body as TableInfo[]
    const { pct } = again[0]!.revisions.at(-1)!.way!.settings as { pct: number }
    expect(pct).toBeCloseTo(((1.069 * 1.09) / 1.02 - 1) * 100, 0)
    expect(pct).toBeGreaterThanOrEqual(((1.069 * 1.09) / 1.02 - 1) * 100)
    expect(((await server.call().get(api(`/jobs/${own}/tables`))).body as TableInfo[]).map((one) => one.id)).toEqual([
      again[0]!.id,
    ])
    const csv = await server
      .call()
      .get(api(`/jobs/${own}/tables/${again[0]!.id}/revisions/3.csv`))
      .expect(200)
    expect(csv.text).toContain(String(pct))
  })

  it('put in again on other breakpoints it keeps its history, and each run the state that it was made on', async () => {
    const own = await server.newJob()
    await server.upload(own, CSV, { name: 'before' }).expect(201)
    const way = { kind: 'coarse', rpmPoints: 2, loadPoints: 2, rpm: [2000, 8000], load: [10, 100] }
    const [first] = (await take(own, { wanted: WANTED, way }).expect(201)).body as TableInfo[]
    await server.upload(own, CSV.replace('0.90', '0.91'), { name: 'between' }).expect(201)
    const finer = { ...way, rpmPoints: 3, rpm: [2000, 5000, 8000] }
    const [second] = (await take(own, { wanted: WANTED, way: finer }).expect(201)).body as TableInfo[]
    expect(second!.id).not.toBe(first!.id)
    expect(second!.revisions.map((one) => one.way?.asked.kind ?? null)).toEqual([null, 'coarse', 'coarse'])
    const state = async (n: number): Promise<number[][]> =>
      ((await server.call().get(api(`/jobs/${own}/tables/${second!.id}/revisions/${n}`))).body as TableInfo).table
        .values
    expect((await state(1)).flat().every((one) => one === 0)).toBe(true)
    // As the first one gave it, on the breakpoints of the second.
    const [low, high] = [first!.table.values[0]!, first!.table.values[1]!]
    expect((await state(2))[0]![1]).toBeCloseTo((low[0]! + low[1]!) / 2, 5)
    expect((await state(2))[1]![2]).toBeCloseTo(high[1]!, 5)
    const runs = (await server.call().get(api(`/jobs/${own}/runs`))).body as RunInfo[]
    expect(runs.map((run) => run.revisions[second!.id])).toEqual([1, 2])
    // Set by hand it is a coarse table still, with the numbers that it has now.
    const values = second!.table.values.map((row) => row.map((one) => one + 1))
    const { body } = await server
      .call()
      .post(api(`/jobs/${own}/tables/${second!.id}/revisions`))
      .send({ values, parent: 3, reason: 'by hand' })
      .expect(201)
    expect((body as TableInfo).revisions.at(-1)!.way).toMatchObject({ asked: { kind: 'coarse' }, settings: { values } })
  })

  it('asks before it leans far, and refuses numbers that do not fit', async () => {
    const own = await server.newJob()
    const lean = { ...WANTED, pct: WANTED.pct.map((row) => row.map(() => -8)) }
    const asked = await take(own, { wanted: lean, way: { kind: 'global' } }).expect(409)
    expect((asked.body as { type: string }).type).toBe('/problems/fuel-step')
    await take(own, { wanted: lean, way: { kind: 'global' }, override: 'a smaller jet was fitted' }).expect(201)
    const bad = { kind: 'pressure', kPa: 300, mostKpa: 310, settings: { kPa: 340 } }
    expect((await take(own, { wanted: WANTED, way: bad }).expect(400)).text).toMatch(/more than the 310 kPa/)
    // What the pump does not hold is worked out and told, and not put in.
    await take(own, { wanted: WANTED, way: { ...bad, settings: undefined } }).expect(400)
    await take(own, {
      wanted: WANTED,
      way: {
        kind: 'bands',
        axis: 'rpm',
        bands: 2,
        settings: { axis: 'rpm', edges: [4000], values: [1], crossover: 0 },
      },
    }).expect(400)
  })

  it('a pressure that is changed again counts from the first one: both changes act', async () => {
    const own = await server.newJob()
    const flat = (pct: number) => ({ ...WANTED, pct: WANTED.pct.map((row) => row.map(() => pct)) })
    const set = async (kPa: number, next: number): Promise<TableInfo> => {
      const way = { kind: 'pressure', kPa, settings: { kPa: next } }
      return ((await take(own, { wanted: flat(3), way }).expect(201)).body as TableInfo[])[0]!
    }
    await set(300, 330)
    const table = await set(330, 345)
    expect(table.revisions).toHaveLength(3)
    expect(table.table.values[0]![0]).toBeCloseTo(100 * (Math.sqrt(345 / 300) - 1), 5)
  })

  it('injectors are a change of hardware: no lean limit, and no change of fuel but the 3 % that they begin richer', async () => {
    const own = await server.newJob()
    const pulses = {
      ...TABLE,
      kind: 'fuel base',
      values: [
        [3, 4, 5],
        [8, 9, 10],
      ],
    }
    const made = await addTable(own, 'Pulse, ms', pulses)
    const way = { kind: 'injectors', table: made.id, from: { flow: 200, deadMs: 0.8 }, to: { flow: 240, deadMs: 0.9 } }
    await take(own, { wanted: WANTED, way }).expect(409)
    const [table] = (await take(own, { wanted: WANTED, way, override: 'flow of both was measured' }).expect(201))
      .body as TableInfo[]
    expect(table!.table.values[0]![0]).toBeCloseTo(((3 - 0.8) * 1.03) / 1.2 + 0.9, 9)
    expect(table!.revisions.at(-1)!.way!.asked.kind).toBe('injectors')
    const log = (await server.call().get(api(`/jobs/${own}/entries`))).text
    expect(log).toMatch(/Injectors of 200 to 240/)
    // Pulses of one's own would pass the gate as hardware: they are worked out, whatever was sent.
    const settings = {
      pulseFactor: 0.5,
      deadMsChange: 0,
      dutyPct: null,
      pulses: [
        [1, 1, 1],
        [1, 1, 1],
      ],
    }
    const sent = { ...way, from: way.to, to: way.to, settings }
    const [same] = (await take(own, { wanted: WANTED, way: sent }).expect(201)).body as TableInfo[]
    expect(same!.table.values[0]![0]).toBeCloseTo((table!.table.values[0]![0]! - 0.9) * 1.03 + 0.9, 6)
  })

  it('bands beside a table leave that table few cells, and both are one act', async () => {
    const own = await server.newJob()
    const wanted = {
      rpm: [2000, 4000, 6000, 8000],
      load: [20, 60, 100],
      pct: [
        [2, 2, 6, 6],
        [2, 9, 6, 6],
        [2, 2, 6, 6],
      ],
    }
    const trim = {
      kind: 'fuel trim',
      composition: 'multiply',
      loadAxis: 'throttle',
      rpm: wanted.rpm,
      load: wanted.load,
      values: wanted.pct.map((row) => row.map(() => 0)),
    }
    const made = await addTable(own, 'Trim', trim)
    const way = { kind: 'bands', axis: 'rpm', bands: 2, table: made.id }
    const { body } = await take(own, { wanted, way }).expect(201)
    const [bands, beside] = body as TableInfo[]
    expect(bands!.revisions.at(-1)!.way!.settings).toMatchObject({
      values: [2, 6],
      edges: [5000],
    })
    expect(beside!.table.values.flat().filter((one) => one !== 0)).toEqual([6.9])
  })
})

it('one percent beside a table of a module that adds: both stand in that table, and act as one', async () => {
  const own = await server.newJob()
  const wanted = {
    rpm: [2000, 4000, 6000, 8000],
    load: [20, 60, 100],
    pct: [
      [3, 3, 3, 3],
      [3, 9, 3, 3],
      [3, 3, 3, 3],
    ],
  }
  const trim = {
    kind: 'fuel trim',
    composition: 'add',
    global: 2,
    loadAxis: 'throttle',
    rpm: wanted.rpm,
    load: wanted.load,
    values: wanted.pct.map((row) => row.map(() => 1)),
  }
  const made = await addTable(own, 'Trim', trim)
  const tables = (await take(own, { wanted, way: { kind: 'global', table: made.id } }).expect(201)).body as TableInfo[]
  expect(tables).toHaveLength(1)
  const { values, global } = tables[0]!.table
  expect(global).toBe(5)
  // 1 and 2 act as 3 %; 3 % more fuel is 1.03 x 1.03, of which 5 are global.
  expect(values[0]![0]).toBeCloseTo(103 * 1.03 - 100 - 5, 6)
  expect(values[1]![1]).toBeCloseTo(103 * 1.03 * (1 + 0.058) - 100 - 5, 1)
})

describe('an archive with a way', () => {
  const archiveOf = async (own: string): Promise<Record<string, Uint8Array>> => {
    const { body } = await server
      .call()
      .get(api(`/jobs/${own}/archive`))
      .buffer(true)
      .parse(asBytes)
    return unzipSync(body as Buffer)
  }
  const unpack = (files: Record<string, Uint8Array>) =>
    server
      .call()
      .post(api('/archives'))
      .attach('file', Buffer.from(zipSync(files)), 'job.zip')
  it('carries it there and back; one whose numbers do not fit is refused', async () => {
    const own = await server.newJob()
    await take(own, { wanted: WANTED, way: { kind: 'bands', axis: 'rpm', bands: 2, crossover: 500 } }).expect(201)
    const files = await archiveOf(own)
    const { body } = await unpack(files).expect(201)
    const [there] = (await server.call().get(api(`/jobs/${own}/tables`))).body as TableInfo[]
    const [here] = (await server.call().get(api(`/jobs/${(body as { id: string }).id}/tables`))).body as TableInfo[]
    expect(here!.revisions.map((one) => one.way)).toEqual(there!.revisions.map((one) => one.way))
    for (const broken of [
      { asked: { kind: 'tape' }, settings: {} },
      { asked: { kind: 'global' }, settings: { pct: 'much' } },
      {
        asked: { kind: 'bands', axis: 'rpm', bands: 2 },
        settings: { axis: 'rpm', edges: [9, 1], values: [1], crossover: 0 },
      },
      { asked: { kind: 'global' }, settings: { pct: 1 }, more: 1 },
      'global',
    ]) {
      const file = JSON.parse(strFromU8(files['job.json']!)) as { tables: { revisions: { way?: unknown }[] }[] }
      file.tables[0]!.revisions[1]!.way = broken
      await unpack({ ...files, 'job.json': strToU8(JSON.stringify(file)) }).expect(422)
    }
  })
})
