import type { BenchState, RunInfo } from '@yuzumix/core'
import { lineStandIn } from '../rigs/lineStandIn'
import { testBench, type TestBench } from '../testBench'
import { api } from '../testServer'

let bench: TestBench
let sender: Awaited<ReturnType<typeof lineStandIn>>
let job: string
beforeAll(async () => {
  bench = await testBench()
})
beforeEach(async () => {
  sender = await lineStandIn({ rate: 100 })
  job = await bench.server.newJob()
})
afterEach(async () => {
  await bench.server.call().delete(api(`/jobs/${job}/bench`))
  await sender.stop()
})
afterAll(() => bench.stop())

const connect = (over: object = {}) =>
  bench.server
    .call()
    .put(api(`/jobs/${job}/bench`))
    .send({ maker: 'lines', source: `127.0.0.1:${sender.port}`, ...over })
const state = async (): Promise<BenchState> =>
  (
    await bench.server
      .call()
      .get(api(`/jobs/${job}/bench`))
      .expect(200)
  ).body as BenchState

describe('a source of live lines', () => {
  it('is read, mapped like a log, recorded as a run with all it tells, and never set', async () => {
    expect((await connect().expect(201)).body).toMatchObject({ readsOnly: true })
    const one = await bench.watcher(job)
    await one.until(() => one.samples.length > 20)
    const { lines, tables } = await state()
    expect(tables).toEqual([])
    expect(lines!.columns.map(({ header, channel }) => [header, channel])).toEqual([
      ['Time (ms)', 'time'],
      ['Engine RPM', 'rpm'],
      ['ThrPos', 'throttle'],
      ['WB_O2', 'lambda1'],
      ['Speed (km/h)', 'speed'],
      ['EGT 1', 'exhaust1'],
      ['Box temperature', expect.stringMatching(/other|intake/)],
    ])
    one.say({ act: 'drive' })
    await one.until(() => one.news.some((news) => news.you))
    one.say({ act: 'set', controls: { throttle: 50 } })
    one.say({ act: 'run', script: { kind: 'hold', stop: 20, rpm: 4000, seconds: 2, gear: 3 } })
    await one.until(() => one.refused.length === 2)
    expect(one.refused.join(' ')).toMatch(/only reads.*only reads/)
    one.say({ act: 'record' })
    await one.until(() => one.news.at(-1)!.recording)
    const before = one.samples.length
    await one.until(() => one.samples.length > before + 80)
    one.say({ act: 'stop' })
    await one.until(() => one.news.at(-1)!.runs === 1)
    const [run] = await bench.runsOf(job)
    expect(run!.channels.map(({ channel }) => channel)).toEqual(
      expect.arrayContaining(['time', 'rpm', 'throttle', 'lambda1', 'speed', 'exhaust1']),
    )
    expect(run!.warnings).toEqual([])
    // Its own clock is of ms: some hundred lines a second, as the machine that tests comes to.
    expect(run!.duration / (run!.samples - 1)).toBeGreaterThan(0.005)
    expect(run!.duration / (run!.samples - 1)).toBeLessThan(0.5)
  })

  it('comes back by itself when its sender was away, and says so meanwhile', async () => {
    await connect().expect(201)
    const one = await bench.watcher(job)
    await one.until(() => one.samples.length > 10)
    const { port } = sender
    await sender.stop()
    await one.until(() => one.news.some(({ said }) => /No link: .*tried again/.test(said)))
    const heard = one.samples.length
    sender = await lineStandIn({ rate: 100, port })
    await one.until(() => one.samples.length > heard + 20)
    await one.until(() => one.news.at(-1)!.said === 'Lines come.')
  })

  it('a mapping that was given is taken, and remembered for the same header', async () => {
    const mapping = {
      'Engine RPM': { channel: 'rpm', unit: 'rpm' },
      WB_O2: { channel: 'lambda2', unit: 'λ' },
      ThrPos: null,
    }
    await connect({ mapping }).expect(201)
    const one = await bench.watcher(job)
    await one.until(() => one.samples.length > 10)
    await bench.server
      .call()
      .delete(api(`/jobs/${job}/bench`))
      .expect(204)
    await connect().expect(201)
    const two = await bench.watcher(job)
    await two.until(() => two.samples.length > 10)
    const { lines } = await state()
    expect(lines!.columns.filter((column) => column.channel !== null).map((column) => column.channel)).toEqual([
      'rpm',
      'lambda2',
    ])
    // Others are not put under that header by the next logs.
    const mappings = (await bench.server.call().get(api('/mappings')).expect(200)).body as Record<string, unknown>
    for (const signature of Object.keys(mappings))
      await bench.server
        .call()
        .delete(api(`/mappings/${encodeURIComponent(signature)}`))
        .expect(204)
  })

  it.each(['', 'logger', '127.0.0.1:99999', '/etc/passwd', '/dev/../etc/passwd', 'http://127.0.0.1:80/x'])(
    'the address "%s" is refused in words',
    async (source) => {
      const { text } = await connect({ source }).expect(400)
      expect(text).toMatch(/host and a port|is missing/)
    },
  )

  it('nobody there, and no such serial port: it says so and goes on trying', async () => {
    await connect({ source: '/dev/ttyNOWHERE9' }).expect(201)
    const one = await bench.watcher(job)
    await one.until(() => one.news.some(({ said }) => /no such serial port/.test(said)))
  })

  it('a line without an end, and bytes that are no text, fill no memory and stop nothing', async () => {
    await connect().expect(201)
    const one = await bench.watcher(job)
    await one.until(() => one.samples.length > 10)
    sender.say('x'.repeat(3_000_000))
    sender.say('\u0000\u0001\u0002;;;;\u0007')
    const heard = one.samples.length
    await one.until(() => one.samples.length > heard + 20)
    const runs: RunInfo[] = await bench.runsOf(job)
    expect(runs).toEqual([])
  })
})
