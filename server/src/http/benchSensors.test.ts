import { api } from '../testServer'
import { testBench, type TestBench } from '../testBench'

let bench: TestBench
beforeAll(async () => {
  bench = await testBench()
})
afterAll(() => bench.stop())
const call = () => bench.server.call()
const newJob = () => bench.server.newJob()

jest.setTimeout(30_000)

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
    await bench.pass(2400)
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
  it('are not calibrated at the wrong end, nor with the engine running', async () => {
    const job = await newJob()
    await bench.connect(job, {}, false)
    expect((await bench.post(job, 'calibrate/open').expect(409)).body.detail).toMatch(/Open the plate all the way/)
    bench.server.benches.of(job)!.link.set({ throttle: 100 })
    await bench.pass(480)
    expect((await bench.post(job, 'calibrate/closed').expect(409)).body.detail).toMatch(/Let the plate shut/)
    bench.server.benches.of(job)!.link.set({ throttle: 0, ignition: true, fuel: true })
    await bench.pass(2800)
    expect((await bench.post(job, 'calibrate/closed').expect(409)).body.detail).toMatch(/Stop the engine/)
    bench.server.benches.of(job)!.link.set({ ignition: false, fuel: false })
    for (let k = 0; k < 50 && bench.server.benches.of(job)!.latestRpm() > 50; k++) await bench.pass(400)
    expect((await bench.post(job, 'calibrate/free-air').expect(409)).body.detail).toMatch(/exhaust gas/)
    expect(await calibration(job)).toEqual({ closedVolts: null, openVolts: null, freeAirPct: null })
  })
})
