import { steppedClock } from '../rigs/clock'
import { testBench, type TestBench } from '../testBench'

const clock = steppedClock()
let bench: TestBench
beforeAll(async () => {
  bench = await testBench(clock)
})
afterAll(() => bench.stop())

describe('the stream', () => {
  it('brings 50 readings for a second of the rig, none left out, on their own times', async () => {
    const job = await bench.server.newJob()
    await bench.connect(job, {}, false)
    const watcher = await bench.watcher(job)
    await watcher.until(() => watcher.news.length > 0)
    clock.advance(1000)
    await watcher.until(() => watcher.samples.length >= 50)
    clock.advance(3000)
    await watcher.until(() => watcher.samples.length >= 200)
    expect(watcher.samples).toHaveLength(200)
    const steps = watcher.samples.slice(1).map((one, k) => one.time - watcher.samples[k]!.time)
    for (const step of steps) expect(step).toBeCloseTo(0.02, 6)
    watcher.socket.close()
  })
  it('brings readings together where that is asked, all of them and in their order', async () => {
    const job = await bench.server.newJob()
    await bench.connect(job, {}, false)
    const watcher = await bench.watcher(job, '?together=16')
    await watcher.until(() => watcher.news.length > 0)
    clock.advance(3000)
    await watcher.until(() => watcher.samples.length >= 150)
    expect(watcher.samples).toHaveLength(150)
    expect(watcher.messages).toBeLessThan(20)
    watcher.samples.slice(1).forEach((one, k) => expect(one.time - watcher.samples[k]!.time).toBeCloseTo(0.02, 6))
    watcher.socket.close()
  })
  it('a rig that runs at four times its speed brings four times as many', async () => {
    const job = await bench.server.newJob()
    await bench.connect(job, { speed: 4 }, false)
    const watcher = await bench.watcher(job)
    await watcher.until(() => watcher.news.length > 0)
    clock.advance(1000)
    await watcher.until(() => watcher.samples.length >= 200)
    expect(watcher.samples).toHaveLength(200)
    watcher.socket.close()
  })
  it('a link that is silent for two seconds is told, once', async () => {
    const job = await bench.server.newJob()
    await bench.connect(job, {}, false)
    const watcher = await bench.watcher(job)
    const { link } = bench.server.benches.of(job)!
    await watcher.until(() => watcher.news.length > 0)
    ;(link as unknown as { faults: { silent: boolean } }).faults.silent = true
    clock.advance(1900)
    expect(watcher.news.some((news) => /no readings/.test(news.said))).toBe(false)
    clock.advance(700)
    await watcher.until(() => watcher.news.some((news) => /no readings/.test(news.said)))
    watcher.socket.close()
  })
})
