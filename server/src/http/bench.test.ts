import { once } from 'node:events'
import { createServer, request, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { setTimeout as delay } from 'node:timers/promises'
import { WebSocket } from 'ws'
import type { BenchNews, RigSample, RunInfo, RunScript, Table, TableInfo } from '@yuzumix/core'
import { benchStream } from '../stream/stream'
import { loadRigMemory, saveRigMemory } from '../store/rigs'
import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
let http: Server
let stream: ReturnType<typeof benchStream>
beforeAll(async () => {
  server = await testServer()
  stream = benchStream(server.benches, false)
  http = createServer(server.app).listen(0, '127.0.0.1')
  http.on('upgrade', stream.upgrade)
  await once(http, 'listening')
})
afterAll(async () => {
  stream.close()
  await server.stop()
  http.close()
})
const call = () => server.call()
const CURLEW = 'curlew-437-short-silencer'
/** Connects a rig, its sensors calibrated as in a workshop that has them set up. */
const connect = async (job: string, over: object = {}, calibrated = true) => {
  const { body } = await call()
    .put(api(`/jobs/${job}/bench`))
    .send({ maker: 'simulated', machine: CURLEW, speed: 4, coolantC: 84, ...over })
    .expect(201)
  if (!calibrated) return body
  const session = server.benches.of(job)!
  const plate = async (throttle: number) => {
    session.link.set({ throttle })
    await delay(120)
  }
  await post(job, 'calibrate/closed').expect(200)
  await plate(100)
  await post(job, 'calibrate/open').expect(200)
  await plate(0)
  return (await post(job, 'calibrate/free-air').expect(200)).body
}
const post = (job: string, path: string, body: object = {}) =>
  call()
    .post(api(`/jobs/${job}/bench/${path}`))
    .send(body)

interface Watcher {
  socket: WebSocket
  samples: RigSample[]
  news: (BenchNews & { you: boolean })[]
  refused: string[]
  say(wish: object): void
  until(what: () => boolean, seconds?: number): Promise<void>
}
/** A client of the stream that keeps what it hears. */
async function watcher(job: string): Promise<Watcher> {
  const { port } = http.address() as AddressInfo
  const socket = new WebSocket(`ws://127.0.0.1:${port}${api(`/jobs/${job}/bench/stream`)}`)
  const heard: Watcher = {
    socket,
    samples: [],
    news: [],
    refused: [],
    say: (wish) => socket.send(JSON.stringify(wish)),
    async until(what, seconds = 20) {
      for (const end = performance.now() + 1000 * seconds; !what(); await delay(20))
        if (performance.now() > end) throw new Error(`not in ${seconds} s; last news: ${heard.news.at(-1)?.said}`)
    },
  }
  socket.on('message', (data: Buffer) => {
    const message = JSON.parse(data.toString()) as {
      sample?: RigSample
      news?: BenchNews & { you: boolean }
      refused?: string
    }
    if (message.sample) heard.samples.push(message.sample)
    if (message.news) heard.news.push(message.news)
    if (message.refused) heard.refused.push(message.refused)
  })
  await once(socket, 'open')
  return heard
}
const SWEEP: RunScript = { kind: 'sweep', stop: 60, fromRpm: 3000, toRpm: 7000, rate: 900, gear: 4 }
const runsOf = async (job: string): Promise<RunInfo[]> => (await call().get(api(`/jobs/${job}/runs`))).body as RunInfo[]

jest.setTimeout(30_000)

describe('a bench', () => {
  it.each([
    ['an address that cannot be decoded', '/api/v1/jobs/%E0%A4%A/bench/stream', 'http://evil.example', 403],
    ['the same from its own page', '/api/v1/jobs/%E0%A4%A/bench/stream', null, 404],
    ['a sandboxed page', '/api/v1/jobs/x/bench/stream', 'null', 403],
    ['another address', '/%', null, 404],
    ['no address at all', '*', 'http://evil.example', 403],
  ])('an upgrade with %s is refused, and the server goes on', async (_what, path, origin, status) => {
    const { port } = http.address() as AddressInfo
    const headers = {
      connection: 'Upgrade',
      upgrade: 'websocket',
      'sec-websocket-version': '13',
      'sec-websocket-key': 'dGhlIHNhbXBsZSBub25jZQ==',
      ...(origin && { origin }),
    }
    const wish = request({ host: '127.0.0.1', port, path, headers }).end()
    const [answer] = (await once(wish, 'response')) as [{ statusCode: number }]
    expect(answer.statusCode).toBe(status)
    await call().get(api('/health')).expect(200)
  })
  it('streams 50 readings a second of its own time, and lets one drive while others watch', async () => {
    const job = await server.newJob()
    await connect(job, { speed: 1 })
    const [one, two] = [await watcher(job), await watcher(job)]
    one.say({ act: 'drive' })
    await one.until(() => one.news.some((news) => news.you))
    two.say({ act: 'drive' })
    two.say({ act: 'set', controls: { throttle: 50 } })
    await two.until(() => two.refused.length === 2)
    expect(two.refused).toEqual([
      expect.stringMatching(/Somebody else drives/),
      expect.stringMatching(/Take the wheel/),
    ])
    one.say({ act: 'set', controls: { throttle: 150 } })
    one.say({ act: 'set', controls: { brake: { kind: 'hold', rpm: 25000 } } })
    one.say({ act: 'set', controls: { brake: { kind: 'rub' } } })
    one.say({ act: 'dance' })
    one.socket.send('{')
    await one.until(() => one.refused.length === 5)
    const from = two.samples.length
    await delay(1000)
    expect(two.samples.length - from).toBeGreaterThan(40)
    expect(two.samples.length - from).toBeLessThan(60)
    one.say({ act: 'let go' })
    await two.until(() => two.news.at(-1)!.driver === null)
    one.socket.close()
    two.socket.close()
  })
  it('runs a script, and the run lands in the job as what it is', async () => {
    const job = await server.newJob()
    await connect(job)
    const client = await watcher(job)
    client.say({ act: 'drive' })
    client.say({ act: 'run', script: SWEEP })
    client.say({ act: 'run', script: SWEEP })
    await client.until(() => client.news.some((news) => /is in the job/.test(news.said)))
    expect(client.refused).toEqual([expect.stringMatching(/A run is under way/)])
    const [run] = await runsOf(job)
    expect(run).toMatchObject({ name: 'Sweep at 60 %', kind: 'sweep', warnings: [] })
    expect(Math.abs(run!.facts!.stop! - 60)).toBeLessThan(1.5)
    expect(run!.channels.map((one) => one.channel)).toEqual(
      expect.arrayContaining(['time', 'rpm', 'throttle', 'torque', 'drum', 'spark', 'coolant', 'lambda1']),
    )
    const field = await call()
      .post(api(`/jobs/${job}/field`))
      .send({})
      .expect(200)
    expect(field.body.runs[0].used).toBeGreaterThan(50)
    client.socket.close()
  })
  it('a driver who vanishes mid-run: what there is of the run is kept and marked as cut, the engine rests', async () => {
    const job = await server.newJob()
    await connect(job)
    const [driver, other] = [await watcher(job), await watcher(job)]
    driver.say({ act: 'drive' })
    driver.say({ act: 'run', script: { ...SWEEP, rate: 300 } })
    await driver.until(() => driver.news.some((news) => news.script?.state.phase === 'running'))
    await delay(900)
    driver.socket.terminate()
    await other.until(() => other.news.at(-1)!.driver === null && /kept|free/.test(other.news.at(-1)!.said))
    const [run] = await runsOf(job)
    expect(run!.name).toBe('Sweep at 60 % (cut)')
    expect(run!.warnings[0]).toMatch(/the driver went away/)
    other.say({ act: 'drive' })
    await other.until(() => other.news.at(-1)!.you)
    other.socket.close()
  })
  it('stops by itself on heat and on a silent link, with the reason in the logbook', async () => {
    const job = await server.newJob()
    await connect(job, { coolantC: 100 })
    const client = await watcher(job)
    client.say({ act: 'drive' })
    client.say({ act: 'run', script: { kind: 'hold', stop: 100, rpm: 6000, seconds: 60, gear: 4 } })
    await client.until(() => client.news.some((news) => news.script?.state.phase === 'running'))
    await call()
      .patch(api(`/jobs/${job}/bench/faults`))
      .send({ silent: true })
      .expect(200)
    await client.until(() => client.news.some((news) => /Stopped, link lost/.test(news.said)))
    const entries = (await call().get(api(`/jobs/${job}/entries`))).body as { act: string }[]
    expect(entries.map((one) => one.act)).toContain('bench stopped: link lost')
    client.socket.close()
  })
  it('recording by hand becomes a run when it is stopped', async () => {
    const job = await server.newJob()
    await connect(job)
    const client = await watcher(job)
    client.say({ act: 'drive' })
    client.say({ act: 'set', controls: { ignition: true, fuel: true, gear: 3, throttle: 20 } })
    client.say({ act: 'record' })
    await delay(1500)
    client.say({ act: 'stop' })
    await client.until(() => client.news.some((news) => /is in the job/.test(news.said)))
    expect((await runsOf(job))[0]).toMatchObject({ name: 'By hand at the bench', warnings: [] })
    client.socket.close()
  })
})

it('a page of another origin cannot join the stream', async () => {
  const job = await server.newJob()
  await connect(job)
  const { port } = http.address() as AddressInfo
  const path = `ws://127.0.0.1:${port}${api(`/jobs/${job}/bench/stream`)}`
  for (const origin of ['http://elsewhere.test', 'null', 'no address']) {
    const socket = new WebSocket(path, { origin })
    const [error] = (await once(socket, 'error')) as [Error]
    expect(error.message).toMatch(/403/)
  }
})

it('a run rests on the revision that the controller held while it was made, not on the newest of the job', async () => {
  const job = await server.newJob()
  const { tables } = (await connect(job)) as { tables: { table: Table }[] }
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
  const client = await watcher(job)
  client.say({ act: 'drive' })
  const recorded = async (): Promise<number | undefined> => {
    const before = (await runsOf(job)).map((run) => run.id)
    client.say({ act: 'set', controls: { ignition: true, fuel: true, gear: 0, throttle: 4 } })
    client.say({ act: 'record' })
    const from = client.samples.length
    await client.until(() => client.samples.length > from + 150)
    client.say({ act: 'stop' })
    await client.until(() => client.news.at(-1)!.runs > before.length)
    return (await runsOf(job)).find((run) => !before.includes(run.id))!.revisions[fuel.id]
  }
  expect(await recorded()).toBe(1)
  client.say({ act: 'set', controls: { ignition: false, fuel: false, throttle: 0 } })
  await client.until(() => client.samples.at(-1)!.rpm < 50)
  await post(job, 'tables/base', { values: richer }).expect(200)
  expect(await recorded()).toBe(2)
  client.socket.close()
})

describe('tables on the bench', () => {
  const tableOf = (state: { tables: { id: string; table: { values: number[][] } }[] }) => state.tables[0]!
  const richer = (values: number[][]): number[][] => values.map((row) => row.map((cell) => 1.05 * cell))
  it('are written volatile, lost with the power, kept, and restored; the first contents are saved in the job', async () => {
    const job = await server.newJob()
    const first = tableOf(await connect(job))
    const changed = richer(first.table.values)
    const written = (await post(job, 'tables/base', { values: changed }).expect(200)).body
    expect(written.controller).toEqual({ readable: true, unkept: ['base'], changed: true })
    expect(tableOf(written).table.values).toEqual(changed)
    const tables = (await call().get(api(`/jobs/${job}/tables`))).body as {
      name: string
      table: { values: number[][] }
    }[]
    expect(tables).toHaveLength(2)
    expect(tables[0]).toMatchObject({ name: 'Fuel, mg per cycle, as found', table: { values: first.table.values } })
    const lost = (await post(job, 'power-cycle').expect(200)).body
    expect(tableOf(lost).table.values).toEqual(first.table.values)
    expect(lost.controller.unkept).toEqual([])
    await post(job, 'tables/base', { values: changed }).expect(200)
    await post(job, 'keep').expect(200)
    expect(tableOf((await post(job, 'power-cycle').expect(200)).body).table.values).toEqual(changed)
    expect(tableOf((await post(job, 'restore').expect(200)).body).table.values).toEqual(first.table.values)
  })
  it('spark is written beside fuel: what the engine is fired at follows, and it is kept on its own', async () => {
    const job = await server.newJob()
    const sparkOf = (state: { tables: { id: string; table: { kind: string; values: number[][] } }[] }) =>
      state.tables.find((one) => one.id === 'spark')!.table
    const state = await connect(job)
    const first = sparkOf(state)
    expect(first.kind).toBe('spark base')
    const later = first.values.map((row) => row.map((cell) => cell - 3))
    const written = (await post(job, 'tables/spark', { values: later }).expect(200)).body
    expect(written.controller.unkept).toEqual(['spark'])
    expect(tableOf(written).table.values).toEqual(tableOf(state).table.values)
    const client = await watcher(job)
    client.say({ act: 'drive' })
    client.say({ act: 'set', controls: { ignition: true, fuel: true, gear: 4, throttle: 40 } })
    client.say({ act: 'set', controls: { brake: { kind: 'hold', rpm: 4000 } } })
    await client.until(() => Math.abs((client.samples.at(-1)?.rpm ?? 0) - 4000) < 80)
    const [row, column] = [
      state.tables[0].table.load.indexOf(40) as number,
      state.tables[0].table.rpm.indexOf(4000) as number,
    ]
    expect(client.samples.at(-1)!.spark).toBeCloseTo(later[row]![column]!, 0)
    client.say({ act: 'set', controls: { ignition: false, fuel: false, throttle: 0, brake: { kind: 'off' } } })
    client.socket.close()
    await post(job, 'keep').expect(200)
    const again = await connect(job, {}, false)
    expect(sparkOf(again).values).toEqual(later)
    expect(sparkOf((await post(job, 'restore').expect(200)).body).values).toEqual(first.values)
  })
  it('a rig that remembers from before there were spark tables has the one of the factory', async () => {
    const job = await server.newJob()
    const state = await connect(job, {}, false)
    await post(job, 'tables/base', { values: richer(tableOf(state).table.values) }).expect(200)
    await post(job, 'keep').expect(200)
    const memory = (await loadRigMemory(server.store, job, CURLEW))!
    const fuelOnly = { ...memory, first: memory.first.slice(0, 1), kept: memory.kept.slice(0, 1) }
    await saveRigMemory(server.store, job, CURLEW, fuelOnly)
    const again = await connect(job, {}, false)
    expect(tableOf(again).table.values).toEqual(richer(tableOf(state).table.values))
    expect(again.tables[1].table.values).toEqual(state.tables[1].table.values)
  })
  it('a low battery is refused, a drop half way leaves a controller that must be recovered', async () => {
    const job = await server.newJob()
    const first = tableOf(await connect(job))
    const faults = (body: object) =>
      call()
        .patch(api(`/jobs/${job}/bench/faults`))
        .send(body)
        .expect(200)
    await faults({ lowBattery: 2 })
    await delay(60)
    const low = await post(job, 'tables/base', { values: richer(first.table.values) }).expect(409)
    expect(low.body.detail).toMatch(/a write needs 12.2 V. Put a charger on/)
    await faults({ lowBattery: 0, dropDuringWrite: true })
    await delay(60)
    await post(job, 'tables/base', { values: richer(first.table.values) }).expect(409)
    const dead = (
      await call()
        .get(api(`/jobs/${job}/bench`))
        .expect(200)
    ).body
    expect(dead.controller.readable).toBe(false)
    // Connecting anew, or a server that starts again, does not mend it.
    const again = await connect(job, {}, false)
    expect(again.controller.readable).toBe(false)
    expect((await post(job, 'keep').expect(409)).body.detail).toMatch(/does not answer/)
    const back = (await post(job, 'recover').expect(200)).body
    expect(tableOf(back).table.values).toEqual(first.table.values)
  })
  it('of the wrong shape or kind, or with the engine running, are refused', async () => {
    const job = await server.newJob()
    const first = tableOf(await connect(job))
    await post(job, 'tables/base', { values: [[1, 2]] }).expect(409)
    await post(job, 'tables/base', { values: 'all' }).expect(400)
    // The advance of a table of fuel, in degrees, is no advance.
    const hundreds = first.table.values.map((row) => row.map(() => 100))
    expect((await post(job, 'tables/spark', { values: hundreds }).expect(409)).body.detail).toMatch(/outside -60 to 70/)
    await post(job, 'tables/plate', { values: first.table.values }).expect(409)
    const client = await watcher(job)
    client.say({ act: 'drive' })
    client.say({ act: 'set', controls: { ignition: true, fuel: true } })
    await client.until(() => (client.samples.at(-1)?.rpm ?? 0) > 900)
    expect((await post(job, 'tables/base', { values: first.table.values }).expect(409)).body.detail).toMatch(
      /while the engine runs/,
    )
    client.socket.close()
  })
  it('without a bench there is nothing to write to, and a bench needs a machine that exists', async () => {
    const job = await server.newJob()
    await post(job, 'keep').expect(409)
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
    await connect(job)
    await call()
      .delete(api(`/jobs/${job}/bench`))
      .expect(204)
    await call()
      .delete(api(`/jobs/${job}/bench`))
      .expect(404)
  })
})

describe('sensors on the bench', () => {
  const calibration = async (job: string) =>
    (
      await call()
        .get(api(`/jobs/${job}/bench`))
        .expect(200)
    ).body.sensors.calibration
  it('are uncalibrated at first, which every run made with them says', async () => {
    const job = await server.newJob()
    const body = await connect(job, {}, false)
    expect(body.news.calibrated).toEqual({ throttle: false, wideband: false })
    const client = await watcher(job)
    client.say({ act: 'drive' })
    client.say({ act: 'record' })
    await delay(600)
    client.say({ act: 'stop' })
    await client.until(() => client.news.some((news) => /is in the job/.test(news.said)))
    expect((await runsOf(job))[0]!.warnings).toEqual([
      expect.stringMatching(/throttle sensor was not calibrated/),
      expect.stringMatching(/wideband was not calibrated/),
    ])
    client.socket.close()
  })
  it('read true once both ends and free air are taken, and stay so after the bench was disconnected', async () => {
    const job = await server.newJob()
    await connect(job)
    const client = await watcher(job)
    client.say({ act: 'drive' })
    await client.until(() => client.news.at(-1)?.calibrated.throttle === true)
    client.say({ act: 'set', controls: { throttle: 60 } })
    await client.until(() => Math.abs((client.samples.at(-1)?.throttle ?? 0) - 60) < 0.6)
    client.socket.close()
    const before = await calibration(job)
    expect(before.closedVolts).toBeCloseTo(0.5, 1)
    expect(before.freeAirPct).toBeGreaterThan(21.5)
    await call()
      .delete(api(`/jobs/${job}/bench`))
      .expect(204)
    await connect(job, {}, false)
    expect(await calibration(job)).toEqual(before)
  })
  it('are not calibrated at the wrong end, nor with the engine running', async () => {
    const job = await server.newJob()
    await connect(job, {}, false)
    expect((await post(job, 'calibrate/open').expect(409)).body.detail).toMatch(/Open the plate all the way/)
    server.benches.of(job)!.link.set({ throttle: 100 })
    await delay(120)
    expect((await post(job, 'calibrate/closed').expect(409)).body.detail).toMatch(/Let the plate shut/)
    server.benches.of(job)!.link.set({ throttle: 0, ignition: true, fuel: true })
    await delay(700)
    expect((await post(job, 'calibrate/closed').expect(409)).body.detail).toMatch(/Stop the engine/)
    server.benches.of(job)!.link.set({ ignition: false, fuel: false })
    for (let k = 0; k < 50 && server.benches.of(job)!.latestRpm() > 50; k++) await delay(100)
    expect((await post(job, 'calibrate/free-air').expect(409)).body.detail).toMatch(/exhaust gas/)
    expect(await calibration(job)).toEqual({ closedVolts: null, openVolts: null, freeAirPct: null })
  })
})

it('what is kept in the controller is there when the bench is connected anew; what was not kept is lost', async () => {
  const job = await server.newJob()
  const values = (body: { tables: { table: { values: number[][] } }[] }): number[][] => body.tables[0]!.table.values
  const first = values(await connect(job))
  const times = (factor: number) => first.map((row) => row.map((cell) => cell * factor))
  await post(job, 'tables/base', { values: times(1.03) }).expect(200)
  await post(job, 'keep').expect(200)
  await post(job, 'tables/base', { values: times(1.1) }).expect(200)
  await call()
    .delete(api(`/jobs/${job}/bench`))
    .expect(204)
  const again = await connect(job, {}, false)
  expect(values(again)).toEqual(times(1.03))
  expect(again.controller).toEqual({ readable: true, unkept: [], changed: true })
  expect(values((await post(job, 'restore').expect(200)).body)).toEqual(first)
})

it('a driver sets what stops a run; a tight limit on heat stops it', async () => {
  const job = await server.newJob()
  await connect(job)
  const client = await watcher(job)
  client.say({ act: 'limits', limits: { coolantC: 80 } })
  client.say({ act: 'drive' })
  client.say({ act: 'limits', limits: { coolantC: 800 } })
  await client.until(() => client.refused.length === 2)
  client.say({ act: 'limits', limits: { coolantC: 70 } })
  await client.until(() => client.news.at(-1)!.limits.coolantC === 70)
  client.say({ act: 'record' })
  await client.until(() => client.news.some((news) => /Stopped, over temperature: coolant 8\d/.test(news.said)))
  client.socket.close()
})
