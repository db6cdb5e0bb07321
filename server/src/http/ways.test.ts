import type { RunInfo, TableInfo, WayTold } from '@yuzumix/core'
import { asCsv, GRID, knownCase, knownRuns } from '../../../core/trials/knownTruthLog'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { api, asBytes, CSV, testServer, TABLE, type TestServer } from '../testServer'

let server: TestServer
let job: string
beforeAll(async () => {
  server = await testServer()
  job = await server.newJob()
})
afterAll(() => server.stop())
const ask = (body: object, of = job) =>
  server
    .call()
    .post(api(`/jobs/${of}/ways`))
    .send(body)

/** Straight lines in throttle, the same at every speed. */
const WANTED = {
  rpm: [2000, 4000, 6000, 8000],
  load: [10, 40, 70, 100],
  pct: [0, 3, 6, 9].map((pct) => [pct, pct, pct, pct]),
}
const tellsOf = async (ways: object[], wanted: object = WANTED): Promise<WayTold[]> =>
  (await ask({ wanted, ways }).expect(200)).body as WayTold[]

describe('POST /jobs/{job}/ways', () => {
  it('answers in the order asked, of a change that is said and needs no runs', async () => {
    const told = await tellsOf([
      { kind: 'global' },
      { kind: 'coarse', rpmPoints: 2, loadPoints: 2 },
      { kind: 'bands', axis: 'throttle', bands: 2, edges: [55] },
      { kind: 'strips', threshold: 55, rpm: [2000, 8000] },
      { kind: 'table' },
      { kind: 'pressure', kPa: 300 },
      { kind: 'injectors', from: { flow: 200, deadMs: 0.8 }, to: { flow: 250, deadMs: 0.9 } },
    ])
    expect(told.map((one) => one.kind)).toEqual([
      'global',
      'coarse',
      'bands',
      'strips',
      'table',
      'pressure',
      'injectors',
    ])
    const [global, coarse, bands, strips, table, pressure, injectors] = told as never as [
      ...Record<string, { [of: string]: number } & { values: number[] }>[],
    ] as { settings: Record<string, number> & { values: number[] } }[]
    // 9 % wanted at full load, at most 2 % lean left there.
    expect(global!.settings['pct']).toBeCloseTo((1.09 / 1.02 - 1) * 100, 6)
    expect(coarse!.settings['rpm']).toHaveLength(2)
    expect(told[1]!.left.rmsPct).toBeLessThan(0.01)
    expect(bands!.settings.values[1]).toBeGreaterThanOrEqual((1.09 / 1.02 - 1) * 100 - 1e-9)
    expect((strips!.settings['high'] as never as number[])[0]).toBeGreaterThan(5)
    expect(told[4]!.left.rmsPct).toBeLessThan(1e-6)
    expect(table!.settings.values).toEqual(WANTED.pct)
    expect(pressure!.settings['kPa']).toBeCloseTo(300 * (1.09 / 1.02) ** 2, 6)
    expect(injectors!.settings['pulseFactor']).toBeCloseTo(0.8 * 1.03, 12)
    expect(injectors!.settings['deadMsChange']).toBeCloseTo(0.1, 12)
    expect(told[6]!.residualPct[0]![0]).toBeCloseTo((1 / 1.03 - 1) * 100, 9)
  })

  it('says what is wrong with a way, and where', async () => {
    const faultOf = async (way: object): Promise<{ field: string; message: string }> => {
      const { body } = await ask({ wanted: WANTED, ways: [{ kind: 'global' }, way] }).expect(400)
      return (body as { errors: { field: string; message: string }[] }).errors[0]!
    }
    expect(
      await faultOf({ kind: 'coarse', rpmPoints: 3, loadPoints: 2, rpmStep: 250, rpm: [2000, 2100, 8000] }),
    ).toEqual({ field: 'ways[1].rpm[1]', message: '2100 stands closer to 2000 than the raster of 250 rpm' })
    expect((await faultOf({ kind: 'coarse', rpmPoints: 24, loadPoints: 2, rpmStep: 1000 })).field).toBe(
      'ways[1].rpmPoints',
    )
    expect((await faultOf({ kind: 'strips', threshold: 5, rpm: [2000, 8000] })).field).toBe('ways[1].threshold')
    expect((await faultOf({ kind: 'bands', axis: 'rpm', bands: 3, edges: [4000] })).field).toBe('ways[1].edges')
    expect((await faultOf({ kind: 'bands', axis: 'rpm', bands: 2, edges: [9000] })).message).toMatch(/nothing of 2000/)
    expect((await faultOf({ kind: 'pressure', kPa: 300, mostKpa: 280 })).field).toBe('ways[1].mostKpa')
    expect((await faultOf({ kind: 'pressure', kPa: 300, manifoldKpa: 300 })).field).toBe('ways[1].kPa')
    expect((await faultOf({ kind: 'tape' })).field).toBe('ways[1].kind')
    expect((await faultOf({ kind: 'global', table: 'none' })).message).toMatch(/no table/)
    await ask({ wanted: { ...WANTED, pct: [[1]] }, ways: [{ kind: 'global' }] }).expect(400)
    await ask({ wanted: WANTED, ways: [] }).expect(400)
    const nothing = WANTED.pct.map((row) => row.map(() => null))
    await ask({ wanted: { ...WANTED, pct: nothing }, ways: [{ kind: 'global' }] }).expect(422)
    await ask({ ways: [{ kind: 'global' }] }).expect(422)
  })

  it('rescales the pulses of a table, tells their duty, and names a cell whose pulse is over too soon', async () => {
    const pulses = {
      ...TABLE,
      kind: 'fuel base',
      rpm: [2000, 6000, 10000],
      values: [
        [3, 4, 5],
        [8, 9, 10],
      ],
    }
    const { body } = await server
      .call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name: 'Pulse, ms', table: pulses })
      .expect(201)
    const { id } = body as { id: string }
    const swap = { kind: 'injectors', table: id, from: { flow: 200, deadMs: 1 }, to: { flow: 200, deadMs: 1.2 } }
    const [told] = await tellsOf([{ ...swap, kPaFrom: 300, kPaTo: 300 }])
    const { dutyPct } = told!.settings as { dutyPct: number[][] }
    // 10 ms: 9 of them open, 3 % more, 1.2 of dead time; at 10,000 rpm two turns take 12 ms.
    expect(dutyPct[1]![2]).toBeCloseTo(((9 * 1.03 + 1.2) / 12) * 100, 9)
    expect((told!.cautions as never as string[]).join()).toMatch(
      /1 cell above 85 % duty, 87 % at 10\D000 rpm and 100 %/,
    )
    const late = await ask({ wanted: WANTED, ways: [{ ...swap, from: { flow: 200, deadMs: 3 } }] }).expect(400)
    expect((late.body as { errors: { message: string }[] }).errors[0]!.message).toMatch(
      /3 ms is no shorter than the pulse of 3.000 ms at 2000 rpm and 20/,
    )
    await ask({ wanted: WANTED, ways: [{ ...swap, kPaFrom: 300 }] }).expect(400)
  })

  it('takes the change from the field: its estimate, neither shrunk nor clamped', async () => {
    const own = await server.newJob()
    const truth = (rpm: number, load: number): number => 0.24 + 0.02 * Math.sin(rpm / 1400) - 0.0004 * load
    const flat = { target: GRID.load.map(() => GRID.rpm.map(() => 0.9)) }
    const c = knownCase(78, { truth, ...flat })
    for (const run of knownRuns(c)) await server.upload(own, asCsv(run), { name: run.id }).expect(201)
    const { body } = await ask(
      { rpm: c.grid.rpm, load: c.grid.load, target: 0.9, ways: [{ kind: 'table' }, { kind: 'global' }] },
      own,
    ).expect(200)
    const [table, global] = body as WayTold[]
    const { values } = table!.settings as { values: number[][] }
    const row = c.grid.load.indexOf(c.stops.at(-1)!)
    const column = c.grid.rpm.findIndex((rpm) => rpm >= 6000)
    // Far beyond the 15 % that one pass may go.
    expect(values[row]![column]).toBeGreaterThan(16)
    expect(values[row]![column]).toBeCloseTo(100 * (Math.exp(truth(c.grid.rpm[column]!, c.grid.load[row]!)) - 1), -0.3)
    expect(global!.left.rmsPct).toBeGreaterThan(0.5)
  })
})

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
    const made = (
      await server
        .call()
        .post(api(`/jobs/${own}/tables`))
        .send({ name: 'Pulse, ms', table: pulses })
    ).body as TableInfo
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
    const made = (
      await server
        .call()
        .post(api(`/jobs/${own}/tables`))
        .send({ name: 'Trim', table: trim })
    ).body as TableInfo
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
  const made = (
    await server
      .call()
      .post(api(`/jobs/${own}/tables`))
      .send({ name: 'Trim', table: trim })
  ).body as TableInfo
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
