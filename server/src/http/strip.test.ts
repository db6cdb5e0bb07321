import type { ArchivedJob, Pass, PassesMade, RunInfo, StripDay } from '@yuzumix/core'
import { unzipSync, strFromU8 } from 'fflate'
import { api, asBytes, testServer, type TestServer } from '../testServer'

let server: TestServer
let job: string
const post = (body: object) =>
  server
    .call()
    .post(api(`/jobs/${job}/passes`))
    .send(body)
const passes = async (): Promise<Pass[]> =>
  (
    await server
      .call()
      .get(api(`/jobs/${job}/passes`))
      .expect(200)
  ).body as Pass[]

/**
 * A log of two passes at 5 m/s², with a wheel that spins 20 % in first gear and a mixture of 0.9 in it, 0.86 above; the probe
 * tells 0.2 s late.
 */
function log(count: number): string {
  const rows = ['time,rpm,throttle,lambda,speed']
  const lambdas: number[] = []
  let time = 0
  const row = (kmh: number, rpm: number, throttle: number, lambda: number): void => {
    lambdas.push(lambda)
    const late = lambdas[Math.max(0, lambdas.length - 5)]!
    rows.push([time, rpm, throttle, late, kmh].map((x) => x.toFixed(4)).join(','))
    time += 0.05
  }
  for (let pass = 0; pass < count; pass++) {
    for (let k = 0; k < 100; k++) row(0, 1500, 1, 1)
    for (let k = 1; k < 280; k++) {
      const kmh = 3.6 * 5 * 0.05 * k
      const isFirst = kmh < 80
      const rpm = isFirst ? Math.max(3000, 100 * kmh * (1 + 0.2 * Math.max(0, Math.min(1, (70 - kmh) / 20)))) : 60 * kmh
      row(kmh, rpm, 100, isFirst ? 0.9 : 0.86)
    }
    for (let k = 0; k < 400; k++) row(Math.max(0, 251 - k), 2000, 1, 1.2)
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

describe('passes at the strip', () => {
  it('are found in a log: times, spin, and the mixture of each gear with its lag taken out', async () => {
    await server
      .call()
      .patch(api(`/jobs/${job}`))
      .send({ mixture: { lagMs: 200 } })
    const run = (await server.upload(job, log(1)).expect(201)).body as RunInfo
    const pass = (await post({ run: run.id }).expect(201)).body as Pass
    expect(pass).toMatchObject({ run: run.id, lifted: false, rolloutM: 0.3048, trapM: 20.1168, name: 'Pass 1' })
    const at = (s: number): number => Math.sqrt((2 * s) / 5)
    expect(pass.splits).toHaveLength(5)
    for (const { distanceM, timeS } of pass.splits)
      expect(Math.abs(timeS - (at(distanceM) - at(0.3048)))).toBeLessThan(0.05)
    const [first, second] = pass.gears
    expect(pass.gears).toHaveLength(2)
    expect(first!.lambda!).toBeCloseTo(0.9, 2)
    expect(second!.lambda!).toBeCloseTo(0.86, 2)
    expect(first!.spinPct!).toBeGreaterThan(15)
    expect(second!.spinPct!).toBeLessThan(2)
    // The same run again keeps nothing twice.
    await post({ run: run.id }).expect(201)
    expect(await passes()).toHaveLength(1)
    const day = (
      await server
        .call()
        .get(api(`/jobs/${job}/strip`))
        .expect(200)
    ).body as StripDay
    expect(day.states[0]!.wantedPct!.low).toBeNull()
    expect(day.caution).toMatch(/richer side first/)
  })

  it('of a log with two are both kept, and another rollout and end stand in the answer', async () => {
    const run = (await server.upload(job, log(2)).expect(201)).body as RunInfo
    const { passes: made } = (await post({ run: run.id, rolloutM: 0, endM: 201.168 }).expect(201)).body as PassesMade
    expect(made.map((one) => [one.splits.length, one.rolloutM, one.endM])).toEqual([
      [3, 0, 201.168],
      [3, 0, 201.168],
    ])
    // The clock starts some 0.35 s earlier.
    expect(made[0]!.splits[2]!.timeS).toBeCloseTo(Math.sqrt((2 * 201.168) / 5), 1)
  })

  it('of a part that was left out by time are not taken', async () => {
    const run = (await server.upload(job, log(2)).expect(201)).body as RunInfo
    const leave = (from: number, to: number) =>
      server
        .call()
        .patch(api(`/jobs/${job}/runs/${run.id}`))
        .send({ without: [{ from, to, reason: 'the belt slipped' }] })
        .expect(200)
    // The first pass lies between 5 and 19 s.
    await leave(8, 9)
    const one = (await post({ run: run.id }).expect(201)).body as Pass
    expect(one.from!).toBeGreaterThan(30)
    await leave(0, 1000)
    expect((await post({ run: run.id }).expect(422)).text).toMatch(/was left out by time/)
  })

  it('a slip is noted with reaction left out, changed, compared and taken back', async () => {
    const weather = { temperatureC: 25, pressureKpa: 99, humidityPct: 40 }
    const slip = {
      splits: [
        { distanceM: 18.288, timeS: 1.98 },
        { distanceM: 402.336, timeS: 12.61, speedKmh: 171.2 },
      ],
      reactionS: 0.412,
      weather,
    }
    const pass = (await post(slip).expect(201)).body as Pass
    expect(pass.splits[1]).toEqual({ distanceM: 402.336, timeS: 12.61, speedKmh: 171.2 })
    expect(pass.densityAltitudeM!).toBeGreaterThan(400)
    const { body: changed } = await server
      .call()
      .patch(api(`/jobs/${job}/passes/${pass.id}`))
      .send({ note: 'crosswind', lifted: true })
      .expect(200)
    expect(changed).toMatchObject({ note: 'crosswind', lifted: true, reactionS: 0.412 })
    await server
      .call()
      .delete(api(`/jobs/${job}/passes/${pass.id}`))
      .expect(204)
    expect(await passes()).toEqual([])
    await server
      .call()
      .delete(api(`/jobs/${job}/passes/${pass.id}`))
      .expect(404)
  })

  it.each([
    [{}, /name a run, or give the splits/],
    [{ run: 'x', splits: [{ distanceM: 18.288, timeS: 2 }] }, /not both/],
    [
      {
        splits: [
          { distanceM: 18.288, timeS: 2.2 },
          { distanceM: 100.584, timeS: 2.1 },
        ],
      },
      /must rise/,
    ],
    [{ run: 'nothing' }, /there is no run/],
    [{ splits: [{ distanceM: 18.288, timeS: 2 }], set: 'nothing' }, /there is no such set/],
  ])('%j is refused in words', async (body, words) => {
    const { text } = await post(body).expect(400)
    expect(text).toMatch(words)
  })

  it('a log without a road speed, and one that never moves, hold none', async () => {
    const still = log(1).replace(/,[\d.]+$/gm, ',0')
    const run = (await server.upload(job, still).expect(201)).body as RunInfo
    expect((await post({ run: run.id }).expect(422)).text).toMatch(/holds no pass/)
    const blind = log(1).replace(/,[^,\n]+$/gm, '')
    const other = (await server.upload(job, blind).expect(201)).body as RunInfo
    expect((await post({ run: other.id }).expect(422)).text).toMatch(/no road speed/)
  })

  it('travel with the job', async () => {
    const run = (await server.upload(job, log(1)).expect(201)).body as RunInfo
    await post({ run: run.id }).expect(201)
    const { body: zip } = await server
      .call()
      .get(api(`/jobs/${job}/archive`))
      .buffer()
      .parse(asBytes)
      .expect(200)
    const told = JSON.parse(strFromU8(unzipSync(zip as Uint8Array)['job.json']!)) as ArchivedJob
    expect(told.passes![0]).toMatchObject({ run: '0', set: '0' })
    const { body: made } = await server
      .call()
      .post(api('/archives'))
      .attach('file', zip as Buffer, 'job.zip')
      .expect(201)
    const { body: there } = await server.call().get(api(`/jobs/${(made as { id: string }).id}/passes`))
    const [before] = await passes()
    expect(there).toMatchObject([{ splits: before!.splits, gears: before!.gears }])
  })
})
