import type { BenchState, TableInfo } from '@yuzumix/core'
import { loadRigMemory, saveRigMemory } from '../store/rigs'
import { api } from '../testServer'
import { CURLEW, testBench, type TestBench } from '../testBench'

let bench: TestBench
beforeAll(async () => {
  bench = await testBench()
})
afterAll(() => bench.stop())
const call = () => bench.server.call()
const newJob = () => bench.server.newJob()

it('a run rests on the revision that the controller held while it was made, not on the newest of the job', async () => {
  const job = await newJob()
  const { tables } = (await bench.connect(job)) as BenchState
  const { table } = tables.find((one) => one.table.kind === 'fuel base')!
  const fuel = (
    await call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name: 'Fuel', table })
      .expect(201)
  ).body as TableInfo
  const richer = table.values.map((row) => row.map((cell) => 1.05 * cell))
  await call()
    .post(api(`/jobs/${job}/tables/${fuel.id}/revisions`))
    .send({ values: richer, parent: 1, reason: 'a little more' })
    .expect(201)
  const client = await bench.watcher(job)
  client.say({ act: 'drive' })
  const recorded = async (): Promise<number | undefined> => {
    const before = (await bench.runsOf(job)).map((run) => run.id)
    client.say({ act: 'set', controls: { ignition: true, fuel: true, gear: 0, throttle: 4 } })
    client.say({ act: 'record' })
    const from = client.samples.length
    await client.until(() => client.samples.length > from + 150)
    client.say({ act: 'stop' })
    await client.until(() => client.news.at(-1)!.runs > before.length)
    return (await bench.runsOf(job)).find((run) => !before.includes(run.id))!.revisions[fuel.id]
  }
  expect(await recorded()).toBe(1)
  client.say({ act: 'set', controls: { ignition: false, fuel: false, throttle: 0 } })
  await client.until(() => client.samples.at(-1)!.rpm < 50)
  await bench.post(job, 'tables/base', { values: richer }, client.me).expect(200)
  expect(await recorded()).toBe(2)
  client.socket.close()
})

const WANTED = { override: 'back to how it came' }

describe('tables on the bench', () => {
  const tableOf = (state: { tables: { id: string; table: { values: number[][] } }[] }) => state.tables[0]!
  const richer = (values: number[][]): number[][] => values.map((row) => row.map((cell) => 1.05 * cell))
  it('are written volatile, lost with the power, kept, and restored; the first contents are saved in the job', async () => {
    const job = await newJob()
    const first = tableOf(await bench.connect(job))
    const changed = richer(first.table.values)
    const written = (await bench.post(job, 'tables/base', { values: changed }).expect(200)).body
    expect(written.controller).toEqual({ readable: true, unkept: ['base'], changed: true })
    expect(tableOf(written).table.values).toEqual(changed)
    const tables = (await call().get(api(`/jobs/${job}/tables`))).body as {
      name: string
      table: { values: number[][] }
    }[]
    expect(tables).toHaveLength(2)
    expect(tables[0]).toMatchObject({ name: 'Fuel, mg per cycle, as found', table: { values: first.table.values } })
    const lost = (await bench.post(job, 'power-cycle').expect(200)).body
    expect(tableOf(lost).table.values).toEqual(first.table.values)
    expect(lost.controller.unkept).toEqual([])
    await bench.post(job, 'tables/base', { values: changed }).expect(200)
    await bench.post(job, 'keep').expect(200)
    expect(tableOf((await bench.post(job, 'power-cycle').expect(200)).body).table.values).toEqual(changed)
    expect(tableOf((await bench.post(job, 'restore', WANTED).expect(200)).body).table.values).toEqual(
      first.table.values,
    )
  })
  it('spark is written beside fuel: what the engine is fired at follows, and it is kept on its own', async () => {
    const job = await newJob()
    const sparkOf = (state: { tables: { id: string; table: { kind: string; values: number[][] } }[] }) =>
      state.tables.find((one) => one.id === 'spark')!.table
    const state = await bench.connect(job)
    const first = sparkOf(state)
    expect(first.kind).toBe('spark base')
    const later = first.values.map((row) => row.map((cell) => cell - 3))
    const written = (await bench.post(job, 'tables/spark', { values: later }).expect(200)).body
    expect(written.controller.unkept).toEqual(['spark'])
    expect(tableOf(written).table.values).toEqual(tableOf(state).table.values)
    const client = await bench.watcher(job)
    client.say({ act: 'drive' })
    client.say({ act: 'set', controls: { ignition: true, fuel: true, gear: 4, throttle: 40 } })
    client.say({ act: 'set', controls: { brake: { kind: 'hold', rpm: 4000 } } })
    await client.until(() => Math.abs((client.samples.at(-1)?.rpm ?? 0) - 4000) < 80)
    const [row, column] = [
      state.tables[0]!.table.load.indexOf(40) as number,
      state.tables[0]!.table.rpm.indexOf(4000) as number,
    ]
    expect(client.samples.at(-1)!.spark).toBeCloseTo(later[row]![column]!, 0)
    client.say({ act: 'set', controls: { ignition: false, fuel: false, throttle: 0, brake: { kind: 'off' } } })
    await client.until(() => client.samples.at(-1)!.rpm < 50)
    await bench.post(job, 'keep', {}, client.me).expect(200)
    client.socket.close()
    const again = await bench.connect(job, {}, false)
    expect(sparkOf(again).values).toEqual(later)
    expect(sparkOf((await bench.post(job, 'restore', WANTED).expect(200)).body).values).toEqual(first.values)
  })
  it('a rig that remembers from before there were spark tables has the one of the factory', async () => {
    const job = await newJob()
    const state = await bench.connect(job, {}, false)
    await bench.post(job, 'tables/base', { values: richer(tableOf(state).table.values) }).expect(200)
    await bench.post(job, 'keep').expect(200)
    const memory = (await loadRigMemory(bench.server.store, job, CURLEW))!
    const fuelOnly = { ...memory, first: memory.first.slice(0, 1), kept: memory.kept.slice(0, 1) }
    await saveRigMemory(bench.server.store, job, CURLEW, fuelOnly)
    const again = await bench.connect(job, {}, false)
    expect(tableOf(again).table.values).toEqual(richer(tableOf(state).table.values))
    expect(again.tables[1]!.table.values).toEqual(state.tables[1]!.table.values)
  })
  it('a low battery is refused, a drop half way leaves a controller that must be recovered', async () => {
    const job = await newJob()
    const first = tableOf(await bench.connect(job))
    const faults = (body: object) =>
      call()
        .patch(api(`/jobs/${job}/bench/faults`))
        .send(body)
        .expect(200)
    await faults({ lowBattery: 2 })
    await bench.pass(240)
    const low = await bench.post(job, 'tables/base', { values: richer(first.table.values) }).expect(409)
    expect(low.body.detail).toMatch(/a write needs 12.2 V. Put a charger on/)
    await faults({ lowBattery: 0, dropDuringWrite: true })
    await bench.pass(240)
    await bench.post(job, 'tables/base', { values: richer(first.table.values) }).expect(409)
    const dead = (
      await call()
        .get(api(`/jobs/${job}/bench`))
        .expect(200)
    ).body
    expect(dead.controller.readable).toBe(false)
    // Connecting anew, or a server that starts again, does not mend it.
    const again = await bench.connect(job, {}, false)
    expect(again.controller.readable).toBe(false)
    expect((await bench.post(job, 'keep').expect(409)).body.detail).toMatch(/does not answer/)
    const back = (await bench.post(job, 'recover').expect(200)).body
    expect(tableOf(back).table.values).toEqual(first.table.values)
  })
  it('of the wrong shape or kind, or with the engine running, are refused', async () => {
    const job = await newJob()
    const first = tableOf(await bench.connect(job))
    await bench.post(job, 'tables/base', { values: [[1, 2]] }).expect(409)
    await bench.post(job, 'tables/base', { values: 'all' }).expect(400)
    // The advance of a table of fuel, in degrees, is no advance.
    const hundreds = first.table.values.map((row) => row.map(() => 100))
    expect((await bench.post(job, 'tables/spark', { values: hundreds }).expect(409)).body.detail).toMatch(
      /outside -60 to 70/,
    )
    await bench.post(job, 'tables/plate', { values: first.table.values }).expect(409)
    const client = await bench.watcher(job)
    client.say({ act: 'drive' })
    client.say({ act: 'set', controls: { ignition: true, fuel: true } })
    await client.until(() => (client.samples.at(-1)?.rpm ?? 0) > 900)
    const running = await bench.post(job, 'tables/base', { values: first.table.values }, client.me).expect(409)
    expect(running.body.detail).toMatch(/The engine turns at .* Stop it first/)
    client.socket.close()
  })
  it('without a bench there is nothing to write to, and a bench needs a machine that exists', async () => {
    const job = await newJob()
    await bench.post(job, 'keep').expect(409)
    expect(
      (
        await call()
          .get(api(`/jobs/${job}/bench`))
          .expect(200)
      ).body,
    ).toBeNull()
    const { body } = await call()
      .put(api(`/jobs/${job}/bench`))
      .send({ maker: 'simulated', machine: 'ostrich' })
      .expect(400)
    expect(body.errors[0].field).toBe('machine')
    expect((await call().get(api('/bench/machines'))).body.length).toBeGreaterThan(2)
    await bench.connect(job)
    await call()
      .delete(api(`/jobs/${job}/bench`))
      .expect(204)
    await call()
      .delete(api(`/jobs/${job}/bench`))
      .expect(404)
  })
})

it('what is kept in the controller is there when the bench is connected anew; what was not kept is lost', async () => {
  const job = await newJob()
  const values = (body: { tables: { table: { values: number[][] } }[] }): number[][] => body.tables[0]!.table.values
  const first = values(await bench.connect(job))
  const times = (factor: number) => first.map((row) => row.map((cell) => cell * factor))
  await bench.post(job, 'tables/base', { values: times(1.03) }).expect(200)
  await bench.post(job, 'keep').expect(200)
  await bench.post(job, 'tables/base', { values: times(1.1) }).expect(200)
  await call()
    .delete(api(`/jobs/${job}/bench`))
    .expect(204)
  const again = await bench.connect(job, {}, false)
  expect(values(again)).toEqual(times(1.03))
  expect(again.controller).toEqual({ readable: true, unkept: [], changed: true })
  expect(values((await bench.post(job, 'restore', WANTED).expect(200)).body)).toEqual(first)
})
