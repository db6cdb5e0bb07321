import type { FieldAnswer, NamedStretch, Pyramid, RunInfo } from '@yuzumix/core'
import { seededRandom } from '../../../core/src/numbers/random'
import { api, asBytes, testServer, type TestServer } from '../testServer'

let server: TestServer
let job: string
let run: RunInfo
const stretches = async (): Promise<NamedStretch[]> =>
  (
    await server
      .call()
      .get(api(`/jobs/${job}/runs/${run.id}/stretches`))
      .expect(200)
  ).body as NamedStretch[]
const change = (body: object) =>
  server
    .call()
    .patch(api(`/jobs/${job}/runs/${run.id}/stretches`))
    .send(body)

/** Three sweeps at stops of their own with overruns between, of an engine by a formula of its own; lean by what the stop is. */
function log(): string {
  const { normal } = seededRandom(5)
  const rows = ['time,rpm,throttle,lambda']
  let time = 0
  const row = (rpm: number, throttle: number, lambda: number): void => {
    rows.push(
      [(time += 0.04), rpm + 8 * normal(), throttle, lambda * (1 + 0.004 * normal())]
        .map((x) => x.toFixed(4))
        .join(','),
    )
  }
  for (let k = 0; k < 100; k++) row(1400, 1, 1.0)
  for (const [stop, lambda] of [
    [30, 0.93],
    [60, 0.9],
    [100, 0.87],
  ] as const) {
    for (let k = 0; k < 5; k++) row(2500, 1 + (stop - 1) * (k / 5), lambda)
    for (let k = 0; k < 200; k++) row(2500 + 30 * k, stop, lambda)
    for (let k = 0; k < 5; k++) row(8500, stop * (1 - k / 5), lambda)
    for (let k = 0; k < 75; k++) row(8500 - 80 * k, 1, 1.3)
  }
  return rows.join('\n')
}

beforeAll(async () => {
  server = await testServer()
  job = await server.newJob()
  run = (await server.upload(job, log()).expect(201)).body as RunInfo
})
afterAll(() => server.stop())

describe('stretches of a log', () => {
  it('are found by themselves, in order, with ends in seconds of the run', async () => {
    const found = await stretches()
    const sweeps = found.filter((one) => one.kind === 'sweep')
    expect(sweeps.map((one) => one.name)).toEqual(['sweep 1', 'sweep 2', 'sweep 3'])
    sweeps.forEach((one, k) => expect(Math.abs(one.from - (4.24 + k * 11.4))).toBeLessThan(0.3))
    expect(found.filter((one) => one.kind === 'overrun')).toHaveLength(3)
    expect(found.filter((one) => one.kind === 'roll-on')).toHaveLength(3)
    expect(found[0]!.kind).toBe('idle')
    expect([...found].sort((a, b) => a.from - b.from)).toEqual(found)
  })

  it('the id of one is taken wherever a run is: field and flatness rest on its rows alone', async () => {
    const [, second] = (await stretches()).filter((one) => one.kind === 'sweep')
    const ask = { runs: [second!.id], lagMs: 0, target: 0.9, rpm: [3000, 5000, 7000], load: [30, 60, 100] }
    const { body } = await server
      .call()
      .post(api(`/jobs/${job}/field`))
      .send(ask)
      .expect(200)
    const { cylinders, runs } = body as FieldAnswer
    expect(runs.map((one) => one.id)).toEqual([second!.id])
    expect(runs[0]!.used).toBeLessThan(210)
    expect(cylinders[0]!.changePct[1]!.every((one) => one !== null && Math.abs(one) < 0.6)).toBe(true)
    // Of the other stops it tells nothing.
    expect(cylinders[0]!.changePct[0]).toEqual([null, null, null])
    await server
      .call()
      .post(api(`/jobs/${job}/flatness`))
      .send({ runs: [second!.id] })
      .expect(200)
    for (const id of [`${run.id}@5000-4000`, `${run.id}@9999000-9999900`, `nothing@0-1`, `${run.id}@x-y`])
      await server
        .call()
        .post(api(`/jobs/${job}/field`))
        .send({ runs: [id] })
        .expect(400)
  })

  it('are split, joined and named by hand, and stay so', async () => {
    const before = await stretches()
    const [first] = before.filter((one) => one.kind === 'sweep')
    const at = Number((first!.from + 2).toFixed(3))
    const split = (await change({ split: first!.id, at }).expect(200)).body as NamedStretch[]
    expect(split).toHaveLength(before.length + 1)
    const halves = split.filter((one) => one.from === first!.from || one.from === at)
    expect(halves.map((one) => [one.from, one.to])).toContainEqual([at, first!.to])
    const [a, b] = split.filter((one) => one.kind === 'sweep')
    const joined = (await change({ join: [a!.id, b!.id] }).expect(200)).body as NamedStretch[]
    expect(joined.find((one) => one.id === first!.id)).toBeDefined()
    const named = (await change({ id: first!.id, name: 'after the hairpin' }).expect(200)).body as NamedStretch[]
    expect(named.find((one) => one.id === first!.id)!.name).toBe('after the hairpin')
    expect(await stretches()).toEqual(named)
    await change({ split: first!.id, at: 999 }).expect(400)
    await change({ split: 'no such', at: 1 }).expect(400)
    await change({ join: [first!.id, first!.id] }).expect(400)
    await change({ name: 'x' }).expect(400)
    await change({}).expect(400)
    const { text } = await server
      .call()
      .get(api(`/jobs/${job}/entries`))
      .expect(200)
    expect(text).toMatch(/is now after the hairpin/)
  })

  it('those made by hand, kept columns and maps in force travel with the job', async () => {
    const wider = log()
      .split('\n')
      .map((row, k) => `${row},${k ? 7.5 : 'Fuel level [l]'}`)
      .join('\n')
    const kept = (await server.upload(job, wider).expect(201)).body as RunInfo
    expect(kept.channels.at(-1)).toMatchObject({ channel: 'other1', header: 'Fuel level [l]', unit: 'l' })
    const table = {
      kind: 'fuel base',
      composition: 'multiply',
      loadAxis: 'throttle',
      rpm: [2000, 8000],
      load: [10, 100],
      values: [
        [5, 5],
        [9, 9],
      ],
    }
    await server
      .call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name: 'Low', table, inForce: { by: 'throttle', from: null, to: 30 } })
      .expect(201)
    const { body: zip } = await server
      .call()
      .get(api(`/jobs/${job}/archive`))
      .buffer()
      .parse(asBytes)
      .expect(200)
    const { body: made } = await server
      .call()
      .post(api('/archives'))
      .attach('file', zip as Buffer, 'job.zip')
      .expect(201)
    const copy = (made as { id: string }).id
    const runs = (
      await server
        .call()
        .get(api(`/jobs/${copy}/runs`))
        .expect(200)
    ).body as RunInfo[]
    const there = (
      await server
        .call()
        .get(api(`/jobs/${copy}/runs/${runs[0]!.id}/stretches`))
        .expect(200)
    ).body as NamedStretch[]
    const bare = (list: NamedStretch[]) => list.map(({ id: _, ...one }) => one)
    expect(bare(there)).toEqual(bare(await stretches()))
    expect(runs[1]!.channels).toEqual(kept.channels)
    const tables = (
      await server
        .call()
        .get(api(`/jobs/${copy}/tables`))
        .expect(200)
    ).body as { inForce: object }[]
    expect(tables[0]!.inForce).toEqual({ by: 'throttle', from: null, to: 30 })
  })

  it('a long log is drawn from the least and the most of even parts', async () => {
    const ask = (query: string) => server.call().get(api(`/jobs/${job}/runs/${run.id}/pyramid?${query}`))
    const { body } = await ask('channel=rpm&from=4&to=16&points=12').expect(200)
    const { time, min, max } = body as Pyramid
    expect(time).toHaveLength(12)
    expect(time[0]).toBeCloseTo(4.5, 9)
    expect(Math.max(...max)).toBeGreaterThan(8400)
    min.forEach((one, k) => expect(one).toBeLessThanOrEqual(max[k]!))
    expect(((await ask('channel=throttle').expect(200)).body as Pyramid).time).toHaveLength(800)
    await ask('channel=speed').expect(404)
    await ask('channel=rpm&points=0').expect(400)
    await ask('channel=rpm&from=x').expect(400)
    await ask('channel=rpm&from=5&to=5').expect(400)
  })
})
