import type { FuelAnswered, TableInfo } from '@yuzumix/core'
import { seededRandom } from '../../../core/src/numbers/random'
import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const post = (path: string, body: object) => server.call().post(api(path)).send(body)
const RPM = [2000, 3500, 5000, 6500, 8000]
const LOAD = [20, 40, 60, 80, 100]

/**
 * Sweeps of an engine by a formula of its own; the fuel is multiplied by `fuel`, and the mixture hunts at 0.8 Hz by `hunts`.
 * Noise is drawn anew by seed.
 */
function log(seed: number, fuel: (rpm: number, load: number) => number, hunts = 0): string {
  const { normal } = seededRandom(seed)
  const rows = ['time,rpm,throttle,lambda,coolant']
  let time = 0
  for (const throttle of [20, 40, 60, 80, 100])
    for (let k = 0; k <= 240; k++) {
      time += k === 0 ? 3 : 0.05
      const rpm = 1900 + (6200 * k) / 240
      const engine = 0.94 + 0.02 * Math.sin(rpm / 2500) - 0.0003 * throttle
      const lambda = (engine / fuel(rpm, throttle)) * (1 + hunts * Math.sin(time * 5) + 0.004 * normal())
      rows.push([time, rpm, throttle, lambda, 88].map((one) => one.toFixed(4)).join(','))
    }
  return rows.join('\n')
}

describe('POST /jobs/{job}/ways/answered', () => {
  const pressure = { kind: 'pressure', kPa: 300, mostKpa: 400 }
  const wanted = { rpm: RPM, load: LOAD, pct: LOAD.map(() => RPM.map(() => 6)) }
  /** A job read before and after a pressure was put in. */
  async function told(
    fuel: (rpm: number, load: number, factor: number) => number,
    hunts = 0,
  ): Promise<FuelAnswered & { text: string; kind: string }> {
    const job = await server.newJob()
    await server
      .upload(
        job,
        log(31, () => 1),
      )
      .expect(201)
    const way = { ...pressure, settings: { kPa: 330 } }
    const taken = await post(`/jobs/${job}/ways/take`, { wanted, way, override: 'On the brake' }).expect(201)
    const [table] = taken.body as TableInfo[]
    await post(`/jobs/${job}/ways/answered`, { table: table!.id }).expect(422)
    const factor = Math.sqrt(330 / 300)
    await server
      .upload(
        job,
        log(32, (rpm, load) => fuel(rpm, load, factor), hunts),
      )
      .expect(201)
    return (await post(`/jobs/${job}/ways/answered`, { table: table!.id, lagMs: 0 }).expect(200)).body as never
  }

  it('the mixture answered as the pressure explains', async () => {
    const { verdict, all, steadiness, kind, text } = await told((_, __, factor) => factor)
    expect(kind).toBe('pressure')
    expect(verdict).toBe('as explained')
    // Orifice flow goes as the square root of the pressure, by hand: sqrt(330 / 300) = 1.0488.
    expect(all!.expectedPct).toBeCloseTo(4.88, 2)
    expect(Math.abs(all!.answeredPct - 4.88)).toBeLessThan(0.5)
    expect(steadiness!.isWorse).toBe(false)
    // 0.4 % noise, means of six readings: 0.16 %.
    expect(steadiness!.beforePct).toBeGreaterThan(0.1)
    expect(steadiness!.beforePct).toBeLessThan(0.25)
    expect(text).toMatch(/answered as it should/)
  })
  it('a pump that does not keep up under load is told apart from one that does nothing, and hunts', async () => {
    const short = await told((_, load, factor) => (load >= 70 ? 1 + (factor - 1) * 0.2 : factor), 0.012)
    expect(short.verdict).toBe('less under load')
    expect(short.text).toMatch(/pump/)
    expect(short.steadiness!.isWorse).toBe(true)
    expect((await told(() => 1)).verdict).toBe('less')
  })
  it('a mixture that answers by more than the gauge says is told', async () => {
    const { verdict, text } = await told((_, __, factor) => factor * 1.035)
    expect(verdict).toBe('more')
    expect(text).toMatch(/second gauge/)
  })
})
