import { once } from 'node:events'
import { request } from 'node:http'
import type { AddressInfo } from 'node:net'
import { WebSocket } from 'ws'
import type { RunScript } from '@yuzumix/core'
import { api } from '../testServer'
import { testBench, type TestBench } from '../testBench'

let bench: TestBench
beforeAll(async () => {
  bench = await testBench()
})
afterAll(() => bench.stop())
const call = () => bench.server.call()
const newJob = () => bench.server.newJob()

const SWEEP: RunScript = { kind: 'sweep', stop: 60, fromRpm: 3000, toRpm: 7000, rate: 900, gear: 4 }

describe('a bench', () => {
  it.each([
    ['an address that cannot be decoded', '/api/v1/jobs/%E0%A4%A/bench/stream', 'http://evil.example', 403],
    ['the same from its own page', '/api/v1/jobs/%E0%A4%A/bench/stream', null, 404],
    ['a sandboxed page', '/api/v1/jobs/x/bench/stream', 'null', 403],
    ['another address', '/%', null, 404],
    ['no address at all', '*', 'http://evil.example', 403],
  ])('an upgrade with %s is refused, and the server goes on', async (_what, path, origin, status) => {
    const { port } = bench.http.address() as AddressInfo
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
  it('lets one drive while others watch', async () => {
    const job = await newJob()
    await bench.connect(job)
    const [one, two] = [await bench.watcher(job), await bench.watcher(job)]
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
    one.say({ act: 'let go' })
    await two.until(() => two.news.at(-1)!.driver === null)
    one.socket.close()
    two.socket.close()
  })
  it('runs a script, and the run lands in the job as what it is', async () => {
    const job = await newJob()
    await bench.connect(job)
    const client = await bench.watcher(job)
    client.say({ act: 'drive' })
    client.say({ act: 'run', script: SWEEP })
    client.say({ act: 'run', script: SWEEP })
    await client.until(() => client.news.some((news) => /is in the job/.test(news.said)))
    expect(client.refused).toEqual([expect.stringMatching(/A run is under way/)])
    const [run] = await bench.runsOf(job)
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
    const job = await newJob()
    await bench.connect(job)
    const [driver, other] = [await bench.watcher(job), await bench.watcher(job)]
    driver.say({ act: 'drive' })
    driver.say({ act: 'run', script: { ...SWEEP, rate: 300 } })
    await driver.until(() => driver.news.some((news) => news.script?.state.phase === 'running'))
    await bench.pass(3600)
    driver.socket.terminate()
    await other.until(() => other.news.at(-1)!.driver === null && /kept|free/.test(other.news.at(-1)!.said))
    const [run] = await bench.runsOf(job)
    expect(run!.name).toBe('Sweep at 60 % (cut)')
    expect(run!.warnings[0]).toMatch(/the driver went away/)
    other.say({ act: 'drive' })
    await other.until(() => other.news.at(-1)!.you)
    other.socket.close()
  })
  it('stops by itself on heat and on a silent link, with the reason in the logbook', async () => {
    const job = await newJob()
    await bench.connect(job, { coolantC: 100 })
    const client = await bench.watcher(job)
    client.say({ act: 'drive' })
    client.say({ act: 'run', script: { kind: 'hold', stop: 100, rpm: 6000, seconds: 60, gear: 4 } })
    await client.until(() => client.news.some((news) => news.script?.state.phase === 'running'))
    await call()
      .patch(api(`/jobs/${job}/bench/faults`))
      .set('x-driver', client.me)
      .send({ silent: true })
      .expect(200)
    await client.until(() => client.news.some((news) => /Stopped, link lost/.test(news.said)))
    const entries = (await call().get(api(`/jobs/${job}/entries`))).body as { act: string }[]
    expect(entries.map((one) => one.act)).toContain('bench stopped: link lost')
    client.socket.close()
  })
  it('recording by hand becomes a run when it is stopped', async () => {
    const job = await newJob()
    await bench.connect(job)
    const client = await bench.watcher(job)
    client.say({ act: 'drive' })
    client.say({ act: 'set', controls: { ignition: true, fuel: true, gear: 3, throttle: 20 } })
    client.say({ act: 'record' })
    await client.until(() => client.news.at(-1)?.recording === true)
    const from = client.samples.length
    await client.until(() => client.samples.length > from + 300)
    client.say({ act: 'stop' })
    await client.until(() => client.news.some((news) => /is in the job/.test(news.said)))
    expect((await bench.runsOf(job))[0]).toMatchObject({ name: 'By hand at the bench', warnings: [] })
    client.socket.close()
  })
})

it('a page of another origin cannot join the stream', async () => {
  const job = await newJob()
  await bench.connect(job)
  const { port } = bench.http.address() as AddressInfo
  const path = `ws://127.0.0.1:${port}${api(`/jobs/${job}/bench/stream`)}`
  for (const origin of ['http://elsewhere.test', 'null', 'no address']) {
    const socket = new WebSocket(path, { origin })
    const [error] = (await once(socket, 'error')) as [Error]
    expect(error.message).toMatch(/403/)
  }
})

it('a driver sets what stops a run; a tight limit on heat stops it', async () => {
  const job = await newJob()
  await bench.connect(job)
  const client = await bench.watcher(job)
  client.say({ act: 'limits', limits: { coolantC: 80 } })
  client.say({ act: 'drive' })
  client.say({ act: 'limits', limits: { coolantC: 800 } })
  await client.until(() => client.refused.length === 2)
  client.say({ act: 'limits', limits: { coolantC: 70 } })
  await client.until(() => client.news.at(-1)!.limits.coolantC === 70)
  client.say({ act: 'record' })
  await client.until(() => client.news.some((news) => /Stopped, over temperature: coolant [78]\d/.test(news.said)))
  client.socket.close()
})
