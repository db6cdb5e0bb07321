import { DEFAULT_PLAN, type FieldAnswer, type NamedStretch, type RunInfo } from '@yuzumix/core'
import { seededRandom } from '../../../core/src/numbers/random'
import { api, testServer, type TestServer } from '../testServer'

interface PlanTold {
  plan: { steps: { key: string; kind: string; stop: number; repeats: number }[] }
  ticks: { key: string; runs: string[] }[]
}
let server: TestServer
let job: string
const change = (run: string, body: object) =>
  server
    .call()
    .patch(api(`/jobs/${job}/runs/${run}`))
    .send(body)
const fieldOf = async (runs: string[]): Promise<FieldAnswer> =>
  (
    await server
      .call()
      .post(api(`/jobs/${job}/field`))
      .send({ runs, lagMs: 0, target: 0.9, rpm: [3000, 5000, 7000], load: [20, 60] })
      .expect(200)
  ).body as FieldAnswer

/** A ride by formulas: idling, holds, three long pulls at 60 % among town traffic; rich by 6 % in the second half. */
function ride(): string {
  const { normal } = seededRandom(9)
  const rows = ['time,rpm,throttle,lambda']
  let t = 0
  const row = (rpm: number, throttle: number): void => {
    const lambda = (t > 120 ? 0.846 : 0.9) * (1 + 0.004 * normal())
    rows.push([(t += 0.05), rpm + 8 * normal(), throttle + 0.1 * normal(), lambda].map((x) => x.toFixed(4)).join(','))
  }
  const go = (seconds: number, from: number, to: number, throttle: number): void => {
    for (let k = 0; k < 20 * seconds; k++) row(from + ((to - from) * k) / (20 * seconds), throttle)
  }
  for (let round = 0; round < 3; round++) {
    go(6, 1400, 1400, 1)
    go(20, 4000, 4000, 20)
    go(8, 3000, 7500, 60)
    go(4, 7500, 3000, 1)
    go(24, 3600, 4300, 14)
    go(10, 4300, 2000, 1)
  }
  return rows.join('\n')
}
beforeAll(async () => {
  server = await testServer()
})
beforeEach(async () => {
  job = await server.newJob()
})
afterAll(() => server.stop())

describe('parts of a log', () => {
  it('of a ride its long pulls, its holds and its roll-ons count as runs of their own', async () => {
    const run = (await server.upload(job, ride()).expect(201)).body as RunInfo
    expect(run.kind).toBe('road')
    const parts = run.facts!.sweeps!
    const pulls = parts.filter((one) => one.kind === undefined)
    expect(pulls.map((one) => Math.round(one.stop!))).toEqual([60, 60, 60])
    const holds = parts.filter((one) => one.kind === 'hold')
    expect(holds.filter((one) => Math.abs(one.fromRpm - 4000) < 60 && Math.abs(one.stop! - 20) < 1)).toHaveLength(3)
    expect(parts.filter((one) => one.kind === 'roll-on').length).toBeGreaterThanOrEqual(3)
    // The plan is ticked by them, unasked.
    await server
      .call()
      .patch(api(`/jobs/${job}`))
      .send({ plan: { ...DEFAULT_PLAN, service: 'full work', fromRpm: 3000, toRpm: 7500 } })
      .expect(200)
    const { body } = await server
      .call()
      .get(api(`/jobs/${job}/plan`))
      .expect(200)
    const { plan, ticks } = body as PlanTold
    const at60 = plan.steps.find((one) => one.kind === 'sweep' && Math.abs(one.stop - 60) <= 5)!
    expect(ticks.find((one) => one.key === at60.key)!.runs).toEqual(Array(at60.repeats).fill(run.id))
  })

  it('what is left out by time counts nowhere, says so, and counts again', async () => {
    const run = (await server.upload(job, ride()).expect(201)).body as RunInfo
    const before = await fieldOf([run.id])
    const cell = ({ cylinders }: FieldAnswer): number => cylinders[0]!.lambda[1]![1]!
    // Both halves of the ride are in it.
    expect(cell(before)).toBeGreaterThan(0.85)
    expect(cell(before)).toBeLessThan(0.898)
    const without = [{ from: 120, to: 9999, reason: 'the second tank was another fuel' }]
    const changed = (await change(run.id, { without }).expect(200)).body as RunInfo
    expect(changed.without).toEqual(without)
    const after = await fieldOf([run.id])
    expect(cell(after)).toBeCloseTo(0.9, 2)
    expect(after.runs[0]!.setAside['left out by hand']).toBeGreaterThan(500)
    // Pulls in what is left out are none.
    expect(changed.facts!.sweeps!.filter((one) => one.kind === undefined)).toHaveLength(2)
    const { text } = await server
      .call()
      .get(api(`/jobs/${job}/entries`))
      .expect(200)
    expect(text).toMatch(/120\.0 to 9999\.0 s, the second tank was another fuel/)
    const again = (await change(run.id, { without: null }).expect(200)).body as RunInfo
    expect(again.facts).toEqual(run.facts)
    expect(cell(await fieldOf([run.id]))).toBeCloseTo(cell(before), 6)
    await change(run.id, { without: [{ from: 5, to: 5, reason: 'x' }] }).expect(400)
    await change(run.id, { without: [{ from: 5, to: 6, reason: '' }] }).expect(400)
  })

  it('two sweeps that somebody joined are one everywhere', async () => {
    const rows = ['time,rpm,throttle,lambda,torque']
    let t = 0
    for (const stop of [60, 60, 60]) {
      for (let k = 0; k < 200; k++)
        rows.push([(t += 0.04), 2500 + 30 * k, stop, 0.9, 50].map((one) => one.toFixed(3)).join(','))
      for (let k = 0; k < 75; k++)
        rows.push([(t += 0.04), 8500 - 80 * k, 1, 1.3, 0].map((one) => one.toFixed(3)).join(','))
    }
    const run = (await server.upload(job, rows.join('\n')).expect(201)).body as RunInfo
    expect(run.facts!.sweeps).toHaveLength(3)
    const at = api(`/jobs/${job}/runs/${run.id}/stretches`)
    const { body } = await server.call().get(at).expect(200)
    const [first, second] = (body as NamedStretch[]).filter((one) => one.kind === 'sweep')
    await server
      .call()
      .patch(at)
      .send({ join: [first!.id, second!.id] })
      .expect(200)
    const { body: now } = await server
      .call()
      .get(api(`/jobs/${job}/runs/${run.id}`))
      .expect(200)
    expect((now as RunInfo).facts!.sweeps).toHaveLength(2)
    const other = (
      await server
        .call()
        .post(api(`/jobs/${job}/sets`))
        .send({ name: 'again' })
        .expect(201)
    ).body as { id: string }
    const same = (await server.upload(job, rows.join('\n').replace('60.000', '60.001')).expect(201)).body as RunInfo
    await change(same.id, { set: other.id }).expect(200)
    const { body: compared } = await server
      .call()
      .post(api(`/jobs/${job}/compare`))
      .send({ first: [run.set], second: other.id, stop: 60, quantity: 'lambda' })
      .expect(200)
    const sides = compared as { first: { runs: number }; second: { runs: number } }
    expect([sides.first.runs, sides.second.runs]).toEqual([2, 3])
  })
})
