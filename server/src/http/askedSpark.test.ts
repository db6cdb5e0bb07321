import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const ask = (job: string, what: string, body: object) =>
  server
    .call()
    .post(api(`/jobs/${job}/${what}`))
    .send(body)

const HEADER = 'Time (s),Engine speed (rpm),Throttle (%),Lambda,Torque (N·m),Spark advance (°),Knock'
/** Torque about a best advance that rises with speed, falling faster when late. */
const torqueAt = (rpm: number, advance: number): number => {
  const off = advance - (22 + (rpm - 3000) / 800)
  return 40 * (1 - (off < 0 ? 6e-4 : 4.5e-4) * off * off)
}

/** The advance stepped at some speeds, one after the other, at 60 % throttle. */
function stepped(seed: number, speeds: readonly number[], present = 20): string {
  const lines: string[] = []
  let t = 0
  let state = seed
  const wander = (): number => (state = (state * 16807) % 2147483647) / 2147483647 - 0.5
  for (const rpm of speeds)
    for (const offset of [0, -6, -3, 3, 6, 0]) {
      const own = 1 + 0.006 * wander()
      for (let k = 0; k < 75; k++, t += 0.04)
        lines.push(
          [
            t.toFixed(2),
            (rpm + 8 * wander()).toFixed(0),
            60,
            (0.9 + 0.004 * wander()).toFixed(3),
            (torqueAt(rpm, present + offset) * own).toFixed(3),
            present + offset,
            0,
          ].join(','),
        )
    }
  return `${HEADER}\n${lines.join('\n')}\n`
}
const TABLE = {
  kind: 'spark base',
  composition: 'add',
  loadAxis: 'throttle',
  rpm: [2000, 3000, 4000, 5000, 6000],
  load: [20, 60, 100],
  values: [20, 20, 20].map((v) => [v, v, v, v, v]),
}

describe('a log in which the advance was stepped at several speeds', () => {
  let job: string
  let runs: string[]
  beforeAll(async () => {
    job = await server.newJob()
    runs = []
    for (const seed of [3, 7, 11]) {
      const { body } = await server.upload(job, stepped(seed, [3000, 4200, 5400])).expect(201)
      runs.push(body.id)
      expect(body.kind).toBe('spark step')
    }
  })
  it('is found as stepped, and each speed has its best advance with an interval', async () => {
    const { body } = await ask(job, 'spark-fit', {}).expect(200)
    expect(body.bins.map((one: { bin: { rpm: number } }) => one.bin.rpm)).toEqual([3000, 4200, 5400])
    for (const { bin, fit } of body.bins) {
      const truth = 22 + (bin.rpm - 3000) / 800
      expect(Math.abs(fit.best.advance - truth)).toBeLessThan(1.2)
      expect(fit.best.low).toBeLessThan(truth)
      expect(fit.best.high).toBeGreaterThan(truth)
      expect(fit.curve.draws.length).toBeGreaterThan(50)
    }
  })
  it('may be asked of some runs, or with other choices; what is not there is refused by name', async () => {
    const some = await ask(job, 'spark-fit', { runs: runs.slice(0, 2), options: { giveAwayPct: 0 } }).expect(200)
    expect(some.body.bins[0].bin.points).toHaveLength(12)
    const refused = await ask(job, 'spark-fit', { runs: ['nobody'] }).expect(400)
    expect(refused.body.errors[0].field).toMatch(/^runs/)
    expect((await ask(job, 'spark-fit', { set: 'x' }).expect(400)).body.errors[0].field).toBe('set')
    expect((await ask(job, 'spark-fit', { options: { giveAwayPct: 9 } }).expect(400)).body.errors[0].field).toBe(
      'options.giveAwayPct',
    )
  })
  it('makes one surface over a table: a value and an interval at every cell among the points', async () => {
    const { body: table } = await server
      .call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name: 'Spark', table: TABLE })
      .expect(201)
    const { body } = await ask(job, 'spark-change', { table: table.id, limits: { more: 6 } }).expect(200)
    expect(body.rpm).toEqual(TABLE.rpm)
    const row = body.nodes[1] as { best: { low: number; high: number }; changeDeg: number; gainPct: { low: number } }[]
    for (const [k, rpm] of [
      [2, 4000],
      [3, 5000],
    ] as const) {
      const truth = 22 + (rpm - 3000) / 800
      expect(row[k]!.best.low).toBeLessThan(truth)
      expect(row[k]!.best.high).toBeGreaterThan(truth)
      expect(row[k]!.changeDeg).toBeGreaterThan(0.5)
    }
    expect(body.values[1][3]).toBeCloseTo(20 + row[3]!.changeDeg, 6)
    await ask(job, 'spark-change', { table: 'nobody' }).expect(404)
  })
  it('tells nothing of mixture where no fuel was added, and says so by an empty list', async () => {
    expect((await ask(job, 'mixture-sweep', {}).expect(200)).body).toEqual({ mixtures: [] })
  })
})

it('a run is added with its setting by one call', async () => {
  const job = await server.newJob()
  const setting = { advance: 18, knock: false }
  const log = stepped(5, [4000]).replaceAll(/,Spark advance \(°\)/g, ',Spark set (°)')
  const { body } = await server.upload(job, log, { setting: JSON.stringify(setting), kind: 'hold' }).expect(201)
  expect(body.setting).toEqual(setting)
  expect((await server.upload(job, `${log}\n`, { setting: '{' }).expect(400)).body.errors[0]).toMatchObject({
    field: 'setting',
  })
  const wrong = await server.upload(job, `${log}\n`, { setting: '{"advance":-40,"knock":false}' }).expect(400)
  expect(wrong.body.errors[0].field).toBe('setting.advance')
})

describe('an idle screw', () => {
  const peak = [0.75, 1, 1.25, 1.5, 1.75, 2].map((turns) => ({ turns, value: 1300 - 90 * (turns - 1.4) ** 2 }))
  it('is set a quarter turn from the peak, by the kind of screw', async () => {
    const job = await server.newJob()
    const out = await ask(job, 'idle', { way: 'speed', readings: peak, richerIsOut: true }).expect(200)
    expect(out.body).toMatchObject({ turns: expect.closeTo(1.4, 6) as number, set: expect.closeTo(1.65, 6) as number })
    // An air screw, the usual one of a slide: richer is in.
    expect((await ask(job, 'idle', { way: 'vacuum', readings: peak }).expect(200)).body.set).toBeCloseTo(1.15, 6)
    const two = await ask(job, 'idle', { way: 'speed', readings: peak.slice(0, 2) }).expect(200)
    expect(two.body).toMatchObject({ turns: null, set: null, note: expect.stringMatching(/4 settings/) as string })
    await ask(job, 'idle', { way: 'ear', readings: peak }).expect(400)
  })
})

it('the parts of a carburettor are asked of a fitting, with another box, and so many changes at most', async () => {
  const jetting = {
    body: {
      kind: 'two screws',
      scheme: 'diameter',
      bore: 24,
      needleJet: 2.6,
      clips: 5,
      groove: 0.9,
      screwIs: 'fuel',
      usualTurns: 1.5,
    },
    carburettors: [{ name: 'Only', cylinders: [1] }],
    box: { main: [], pilot: [], cutaway: [], springs: [], rods: [], needles: [] },
    checks: ['float', 'boots', 'clean', 'synchronised', 'choke', 'valves', 'fuel'],
    targets: [0.9, 0.91, 0.9, 0.845],
  }
  const machine = { name: 'Plover', cylinders: 1, displacementCc: 100, strokes: 2 }
  const job = await server.newJob({ title: 'Plover', machine, jetting })
  const fitting = { fitted: [{ high: 1, low: 1.25 }], reason: '', predicted: null }
  const { body: set } = await server
    .call()
    .post(api(`/jobs/${job}/sets`))
    .send({ name: 'As it came', fitting })
    .expect(201)
  // 2 % lean at small openings, 16 % wide open.
  const readings = [5, 10, 20, 30, 40, 60, 80, 100].flatMap((load) =>
    [7000, 9000].map((rpm) => ({ rpm, load, readings: [(13.4 + (1 * load) / 100).toFixed(1)] })),
  )
  await ask(job, 'hand-readings', { readings, set: set.id }).expect(201)
  const { body: told } = await ask(job, 'parts', {}).expect(200)
  const [first] = told.list.byChanges[0]
  expect(first.fitted.high).toBeGreaterThan(1)
  expect(first.gain.low).toBeGreaterThan(0)
  expect(first.worst.opening).toBeGreaterThan(0)
  const few = await ask(job, 'parts', { most: 1, set: set.id, box: jetting.box }).expect(200)
  expect(few.body.list.byChanges).toHaveLength(1)
  expect((await ask(job, 'parts', { set: 'nobody' }).expect(400)).body.errors[0].field).toBe('set')
})
