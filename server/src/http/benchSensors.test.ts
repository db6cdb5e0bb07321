import { steppedClock } from '../rigs/clock'
import { api } from '../testServer'
import { testBench, type TestBench } from '../testBench'

let bench: TestBench
beforeAll(async () => {
  bench = await testBench()
})
afterAll(() => bench.stop())
const call = () => bench.server.call()
const newJob = () => bench.server.newJob()

describe('sensors on the bench', () => {
  const calibration = async (job: string) =>
    (
      await call()
        .get(api(`/jobs/${job}/bench`))
        .expect(200)
    ).body.sensors.calibration
  it('are uncalibrated at first, which every run made with them says', async () => {
    const job = await newJob()
    const body = await bench.connect(job, {}, false)
    expect(body.news.calibrated).toEqual({ throttle: false, wideband: false })
    const client = await bench.watcher(job)
    client.say({ act: 'drive' })
    client.say({ act: 'record' })
    await client.until(() => client.news.at(-1)?.recording === true)
    const from = client.samples.length
    await client.until(() => client.samples.length > from + 120)
    client.say({ act: 'stop' })
    await client.until(() => client.news.some((news) => /is in the job/.test(news.said)))
    expect((await bench.runsOf(job))[0]!.warnings).toEqual([
      expect.stringMatching(/throttle sensor was not calibrated/),
      expect.stringMatching(/wideband was not calibrated/),
    ])
    client.socket.close()
  })
  it('read true once both ends and free air are taken, and stay so after the bench was disconnected', async () => {
    const job = await newJob()
    await bench.connect(job)
    const client = await bench.watcher(job)
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
    await bench.connect(job, {}, false)
    expect(await calibration(job)).toEqual(before)
  })
})

it('sensors are not calibrated at the wrong end, nor with the engine running, nor in its exhaust', async () => {
  const clock = steppedClock()
  const slow = await testBench(clock)
  try {
    const job = await slow.server.newJob()
    await slow.connect(job, {}, false)
    const session = slow.server.benches.of(job)!
    const refused = async (step: string): Promise<string> =>
      ((await slow.post(job, `calibrate/${step}`).expect(409)).body as { detail: string }).detail
    expect(await refused('open')).toMatch(/Open the plate all the way/)
    session.link.set({ throttle: 100 })
    clock.advance(500)
    expect(await refused('closed')).toMatch(/Let the plate shut/)
    session.link.set({ throttle: 0, ignition: true, fuel: true })
    clock.advance(3000)
    expect(await refused('closed')).toMatch(/Stop the engine/)
    session.link.set({ ignition: false, fuel: false })
    for (let k = 0; k < 300 && session.latestRpm() > 50; k++) clock.advance(100)
    expect(await refused('free-air')).toMatch(/exhaust gas/)
    clock.advance(30_000)
    await slow.post(job, 'calibrate/free-air').expect(200)
  } finally {
    await slow.stop()
  }
})
