import { DEFAULT_MIXTURE, pointedAt, type FoundThere, type RecordLine, type Report, type RunInfo } from '@yuzumix/core'
import { SHED, shedCsv, shedRides, type Shed } from '../../../core/trials/shedRides'
import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

const GRID = {
  kind: 'fuel base',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [2000, 3500, 5000, 6500, 8000],
  load: [5, 15, 30, 60, 100],
}
const VALUES = GRID.load.map(() => GRID.rpm.map(() => 100))
const LAMBDA = 0.9
const weather = (temperatureC: number) => ({ temperatureC, pressureKpa: 99.1, humidityPct: 40 })
const send = (path: string, body: object) => server.call().post(api(path)).send(body)

/** "You made it worse": measured and corrected, then made leaner in the middle by feel, each time with runs after it. */
async function disputed(): Promise<{ job: string; table: string; sets: string[] }> {
  const job = await server.newJob({
    title: 'Dunlin 208, "worse: than before"',
    machine: { name: 'Dunlin 208', cylinders: 1 },
    rider: 'The owner of the Dunlin',
    workshop: 'Shed by the weir',
    identity: 'frame DL-208-0017',
    mixture: {
      ...DEFAULT_MIXTURE,
      target: {
        ...DEFAULT_MIXTURE.target,
        zones: [{ fromRpm: 0, toRpm: 30_000, fromLoad: 0, toLoad: 400, lambda: LAMBDA }],
      },
    },
  })
  const table = (await send(`/jobs/${job}/tables`, { name: 'Fuel', table: { ...GRID, values: VALUES } }).expect(201))
    .body.id as string
  const sets: string[] = []
  const ride = async (name: string, temperature: number, offPct: number): Promise<string[]> => {
    const made = (
      await send(`/jobs/${job}/sets`, { name, setup: 'long baffle', weather: weather(temperature) }).expect(201)
    ).body.id as string
    sets.push(made)
    const shed: Shed = {
      ...SHED,
      seed: 40 + sets.length,
      need: () => offPct / 100,
      wanted: () => LAMBDA,
    }
    const ids: string[] = []
    for (const [k, run] of shedRides(shed, [15, 30, 60, 100], 3).entries())
      ids.push(
        (
          (await server
            .upload(job, shedCsv(run), { set: made, name: `${name} ${k + 1}`, again: 'true' })
            .expect(201)) as { body: RunInfo }
        ).body.id,
      )
    return ids
  }
  const revise = (values: number[][], reason: string, parent: number, runs: string[], override?: string) =>
    send(`/jobs/${job}/tables/${table}/revisions`, { values, reason, parent, runs, ...(override && { override }) })
  const first = await ride('Before', 20, 5)
  await send(`/jobs/${job}/complaints`, {
    word: 'flat spot',
    fromRpm: 4000,
    toRpm: 6000,
    fromThrottle: 25,
    toThrottle: 70,
  }).expect(201)
  const measured = VALUES.map((row) => row.map((value) => value * 1.05))
  await revise(measured, 'Corrected from 12 runs', 1, first).expect(201)
  await ride('After the correction', 28, 0)
  // The middle is leaned by 7 %, by feel.
  const felt = measured.map((row, r) =>
    row.map((value, k) => (GRID.load[r]! === 30 && k > 0 && k < 4 ? value * 0.93 : value)),
  )
  await revise(felt, 'leaner in the middle, by feel', 2, []).expect(409)
  await revise(felt, 'leaner in the middle, by feel', 2, [], 'the rider wants it so').expect(201)
  await ride('As he wanted it', 24, 3)
  await send(`/jobs/${job}/complaints`, {
    word: 'hesitates',
    fromRpm: 4000,
    toRpm: 6000,
    fromThrottle: 25,
    toThrottle: 70,
  }).expect(201)
  return { job, table, sets }
}

describe('the record of a job that is disputed', () => {
  let report: Report
  let record: RecordLine[]
  let job: string
  beforeAll(async () => {
    ;({ job } = await disputed())
    report = (
      await server
        .call()
        .get(api(`/jobs/${job}/report.json`))
        .expect(200)
    ).body as Report
    record = report.record!
  })

  it('tells every state and every change in their order, each with who asked for it', () => {
    expect(record.map((one) => [one.kind, one.what, one.asked])).toEqual([
      ['runs', 'Before; long baffle', 'made on revision 1 of Fuel'],
      ['change', 'Fuel, revision 2', 'measured, from 12 runs'],
      ['runs', 'After the correction; long baffle', 'made on revision 2 of Fuel'],
      ['change', 'Fuel, revision 3', 'by hand; asked about, and done because: the rider wants it so'],
      ['runs', 'As he wanted it; long baffle', 'made on revision 3 of Fuel'],
    ])
    expect(record[3]!.why).toBe('leaner in the middle, by feel')
  })
  it('names the cells by zone with their signs, against the revision before', async () => {
    const [measured, felt] = [record[1]!, record[3]!]
    expect(measured.zones.map((one) => [one.zone, one.cells])).toEqual([
      ['cruise', 20],
      ['full throttle', 5],
    ])
    for (const { typical } of measured.zones) expect(typical.value).toBeCloseTo(5, 6)
    expect(felt.zones.map((one) => [one.zone, one.cells])).toEqual([['cruise', 3]])
    expect(felt.zones[0]!.largest.value).toBeCloseTo(-7, 6)
    const { from, value } = felt.zones[0]!.largest
    const { body } = await server.call().get(api(from.path)).expect(200)
    expect(pointedAt(body, from.at)).toBe(value)
  })
  it('names the runs, their own weather, and what they show', () => {
    const [before, after, wanted] = record.filter((one) => one.kind === 'runs')
    expect(before!.runs).toEqual(Array.from({ length: 12 }, (_, k) => `Before ${k + 1}`))
    expect(record[1]!.runs).toEqual(before!.runs)
    expect([before, after, wanted].map((one) => one!.weather.split(',')[0])).toEqual(['20 °C', '28 °C', '24 °C'])
    expect(before!.typical!.value).toBeGreaterThan(3.5)
    expect(after!.typical!.value).toBeLessThan(1.5)
    expect(wanted!.typical!.value).toBeGreaterThan(2)
    expect(report.weather).toBe(
      'Before: 20 °C, 99.1 kPa, 40 % humidity. After the correction: 28 °C, 99.1 kPa, 40 % humidity. As he wanted it: 24 °C, 99.1 kPa, 40 % humidity',
    )
  })
  it('judges a complaint by the state that it was about, and by the last', async () => {
    const there = (
      await server
        .call()
        .get(api(`/jobs/${job}/complaint-findings`))
        .expect(200)
    ).body as FoundThere[]
    const [first, last] = there
    expect(first!.then).toMatchObject({ state: 'Before', found: 'mixture error' })
    expect(first!.then!.said).toMatch(/^Lean by [45]\.\d % of fuel/)
    expect(first!.now).toMatchObject({ state: 'As he wanted it' })
    // One that is about the last state is judged by that alone.
    expect(last!.then!.state).toBe('As he wanted it')
    expect(last!.now).toBeNull()
    expect(report.complaints[0]!.then).toEqual(first!.then)
    expect(report.complaints.map((one) => one.said)).toEqual([first!.now!.said, last!.then!.said])
    const { text } = await server.call().get(api(`/jobs/${job}/report.html`))
    expect(text).toMatch(/In the state it was about, Before: lean by .* Now, As he wanted it: /)
  })
  it('says of which state the verdict speaks', async () => {
    const { body } = await server
      .call()
      .get(api(`/jobs/${job}/verdict`))
      .expect(200)
    expect(body.state).toBe('As he wanted it, made on revision 3 of Fuel')
  })
  it.each(['customer', 'workshop'])('stands in print for the %s, with who and which machine it is', async (reader) => {
    const { text, headers } = await server
      .call()
      .get(api(`/jobs/${job}/report.html?for=${reader}`))
      .expect(200)
    for (const one of [
      'Shed by the weir',
      'The owner of the Dunlin',
      'frame DL-208-0017',
      'leaner in the middle, by feel',
      'the rider wants it so',
      'cruise, 3 cells: −7.0 % on average, at most −7.0 %',
      'Before 12',
      '28 °C',
    ])
      expect(text).toContain(one)
    expect(text).not.toMatch(/\.\./)
    expect(headers['content-disposition']).toContain('Dunlin 208, _worse_ than before_.html')
  })
  it('of a revision counts from the one before it, or from any that is named', async () => {
    const tables = (await server.call().get(api(`/jobs/${job}/tables`))).body as { id: string }[]
    const moved = (query: string) => server.call().get(api(`/jobs/${job}/tables/${tables[0]!.id}/moved${query}`))
    const whole = (await moved('').expect(200)).body
    expect((await moved('?from=1&to=3').expect(200)).body).toEqual(whole)
    expect((await moved('?from=2&to=2').expect(200)).body.zones).toEqual([])
    await moved('?from=2&to=9').expect(404)
    await moved('?from=x').expect(404)
  })
})
