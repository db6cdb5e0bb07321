import type { BenchState, RunInfo, TableInfo } from '@yuzumix/core'
import { api } from '../testServer'
import { testBench, type TestBench } from '../testBench'

let bench: TestBench
beforeAll(async () => {
  bench = await testBench()
})
afterAll(() => bench.stop())
const call = () => bench.server.call()
const newJob = () => bench.server.newJob()

const RICHER = {
  rpm: [2000, 4000, 6000, 8000],
  load: [10, 40, 70, 100],
  pct: [0, 3, 6, 9].map((pct) => [pct, pct, pct, pct]),
}

describe('ways on the bench', () => {
  it('are written volatile, lost with the power, kept, and restored with the rest', async () => {
    const job = await newJob()
    const first = (await bench.connect(job)) as BenchState
    expect(first.ways).toMatchObject({ global: { pct: 0 }, pressure: { kPa: 300 } })
    const bands = { axis: 'rpm', edges: [4000, 7000], values: [2, 5, 3], crossover: 500 }
    const written = (await bench.post(job, 'ways/bands', { settings: bands }).expect(200)).body as BenchState
    expect(written.controller.unkept).toEqual(['bands'])
    expect(written.ways!.bands).toEqual(bands)
    expect(((await bench.post(job, 'power-cycle').expect(200)).body as BenchState).ways!.bands.values).toEqual([
      0, 0, 0,
    ])
    await bench.post(job, 'ways/bands', { settings: bands }).expect(200)
    await bench.post(job, 'keep').expect(200)
    expect(((await bench.post(job, 'power-cycle').expect(200)).body as BenchState).ways!.bands).toEqual(bands)
    // Back is leaner by 5 %: asked about, as any large step.
    await bench.post(job, 'restore', {}).expect(409)
    const back = (await bench.post(job, 'restore', { override: 'back to how it came' }).expect(200)).body as BenchState
    expect(back.ways!.bands.values).toEqual([0, 0, 0])
  })

  it('what leans far is asked about, and what the controller has no room for is refused', async () => {
    const job = await newJob()
    await bench.connect(job)
    await bench.post(job, 'ways/global', { settings: { pct: -6 } }).expect(409)
    await bench.post(job, 'ways/global', { settings: { pct: 3 } }).expect(200)
    await bench.post(job, 'ways/pressure', { settings: { kPa: 420 }, override: 'the pump was changed' }).expect(409)
    const four = { axis: 'rpm', edges: [3000, 5000, 7000], values: [1, 1, 1, 1], crossover: 0 }
    const full = await bench.post(job, 'ways/bands', { settings: four }).expect(409)
    expect((full.body as { detail: string }).detail).toMatch(/room for 3 bands, not for 4/)
    await bench.post(job, 'ways/global', { settings: { pct: 'x' } }).expect(400)
    const uneven = { threshold: 20, rpm: [2000, 9000], low: [1], high: [1, 1] }
    await bench.post(job, 'ways/strips', { settings: uneven }).expect(400)
    const back = { axis: 'rpm', edges: [7000, 4000], values: [1, 1, 1], crossover: 0 }
    await bench.post(job, 'ways/bands', { settings: back }).expect(400)
    await bench.post(job, 'ways/tape', { settings: {} }).expect(400)
  })

  it('a run knows whether the way that was taken was in the controller', async () => {
    const job = await newJob()
    await bench.connect(job)
    const [table] = (
      await call()
        .post(api(`/jobs/${job}/ways/take`))
        .send({ wanted: RICHER, way: { kind: 'global' } })
        .expect(201)
    ).body as TableInfo[]
    const client = await bench.watcher(job)
    client.say({ act: 'drive' })
    const recorded = async (): Promise<RunInfo> => {
      const before = (await bench.runsOf(job)).map((run) => run.id)
      client.say({ act: 'set', controls: { ignition: true, fuel: true, gear: 0, throttle: 4 } })
      client.say({ act: 'record' })
      const from = client.samples.length
      await client.until(() => client.samples.length > from + 150)
      client.say({ act: 'stop' })
      await client.until(() => client.news.at(-1)!.runs > before.length)
      return (await bench.runsOf(job)).find((run) => !before.includes(run.id))!
    }
    expect((await recorded()).revisions[table!.id]).toBe(1)
    client.say({ act: 'set', controls: { ignition: false, fuel: false, throttle: 0 } })
    await client.until(() => client.samples.at(-1)!.rpm < 50)
    await bench.post(job, 'ways/global', { settings: table!.revisions.at(-1)!.way!.settings }, client.me).expect(200)
    expect((await recorded()).revisions[table!.id]).toBe(2)
    client.socket.close()
  })

  it('other injectors: pulses rescaled as declared hardware are written without a lean refusal, and prove 3 % richer', async () => {
    const job = await newJob()
    const { tables: inside } = await bench.connect(job, { machine: 'siskin-286-larger-injectors' })
    const [slot] = inside as { id: string; table: TableInfo['table'] }[]
    expect(slot!.table.kind).toBe('fuel base')
    const { body: made } = await call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name: 'Pulse, ms', table: slot!.table })
      .expect(201)
    const way = {
      kind: 'injectors',
      table: (made as TableInfo).id,
      from: { flow: 2.6, deadMs: 0.9 },
      to: { flow: 3.2, deadMs: 1.05 },
    }
    const taken = await call()
      .post(api(`/jobs/${job}/ways/take`))
      .send({ wanted: RICHER, way, override: 'Another set is fitted' })
      .expect(201)
    const { values } = (taken.body as TableInfo[])[0]!.table
    // By hand: 3.2 ms are 2.3 open; times 2.6 / 3.2 x 1.03, and 1.05 of dead time.
    const before = slot!.table.values[5]![5]!
    expect(values[5]![5]).toBeCloseTo((before - 0.9) * (2.6 / 3.2) * 1.03 + 1.05, 6)
    await bench
      .post(job, `tables/${slot!.id}`, { values: values.map((cells) => cells.map((one) => one * 0.9)) })
      .expect(409)
    await bench.post(job, `tables/${slot!.id}`, { values }).expect(200)
  })

  it('filling and commanded lambda are judged together, and a run tells what was commanded', async () => {
    const job = await newJob()
    const { tables: inside } = await bench.connect(job, { machine: 'whinchat-641-filling' })
    const slots = inside as { id: string; table: TableInfo['table'] }[]
    expect(slots.slice(0, 2).map((one) => [one.id, one.table.kind])).toEqual([
      ['base', 'filling'],
      ['commanded', 'lambda target'],
    ])
    const times = (k: number, by: number) => slots[k]!.table.values.map((cells) => cells.map((one) => one * by))
    // 2 % leaner in either passes; 4 % of both together do not.
    await bench.post(job, 'tables/base', { values: times(0, 0.98) }).expect(200)
    await bench.post(job, 'tables/commanded', { values: times(1, 1.02) }).expect(409)
    await bench.post(job, 'tables/commanded', { values: times(1, 0.98) }).expect(200)
  })
})
