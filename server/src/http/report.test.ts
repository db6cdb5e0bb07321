import { DEFAULT_MIXTURE, pointedAt, type Figure, type Report } from '@yuzumix/core'
import { api, asBytes, TABLE, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

/** A sweep at a throttle stop with torque and a mixture that is off by some percent. */
function sweep(stop: number, offPct: number, torque: number, seed: number): string {
  const rows = Array.from({ length: 400 }, (_, i) => {
    const rpm = 2500 + i * 15
    const wobble = Math.sin(i * 0.7 + seed) * 0.4
    return `${i / 50},${rpm},${stop},${(0.88 * (1 + (offPct + wobble) / 100)).toFixed(4)},${(torque + wobble - ((rpm - 6000) / 2500) ** 2).toFixed(3)}`
  })
  return `time,rpm,throttle,lambda,torque\n${rows.join('\n')}\n`
}
/** One target for all of it. */
const FLAT = {
  ...DEFAULT_MIXTURE.target,
  zones: [{ fromRpm: 0, toRpm: 30_000, fromLoad: 0, toLoad: 400, lambda: 0.88 }],
}
/** A job with runs before and, where asked for, after a change. */
async function tunedJob(withAfter: boolean): Promise<string> {
  const job = await server.newJob({
    title: 'Curlew 437, report',
    machine: { name: 'Curlew 437', cylinders: 1 },
    mixture: { ...DEFAULT_MIXTURE, target: FLAT },
  })
  const table = (
    await server
      .call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name: 'Fuel', table: TABLE })
  ).body.id
  const addSet = async (name: string) =>
    (
      await server
        .call()
        .post(api(`/jobs/${job}/sets`))
        .send({ name })
    ).body.id as string
  const addRuns = async (set: string, offPct: number, torque: number) => {
    for (const stop of [20, 60, 100])
      for (const seed of [1, 2, 3])
        await server.upload(job, sweep(stop, offPct, torque, seed + stop), { set, again: 'true' }).expect(201)
  }
  await addRuns(await addSet('Before'), 6, 34)
  if (!withAfter) return job
  const values = TABLE.values.map((row) => row.map((value) => value + 6))
  await server
    .call()
    .post(api(`/jobs/${job}/tables/${table}/revisions`))
    .send({ values, reason: 'lean all over', parent: 1 })
    .expect(201)
  await addRuns(await addSet('After'), 0.3, 36)
  return job
}
function figuresOf(value: unknown): Figure[] {
  if (typeof value !== 'object' || value === null) return []
  if ('from' in value && 'value' in value && 'unit' in value) return [value as Figure]
  return Object.values(value).flatMap(figuresOf)
}

describe('the report of a job with runs before and after', () => {
  let job: string
  let report: Report
  beforeAll(async () => {
    job = await tunedJob(true)
    await server
      .call()
      .post(api(`/jobs/${job}/complaints`))
      .send({ word: 'flat spot', text: 'about <5,000>', fromRpm: 4500, toRpm: 5500 })
    await server
      .call()
      .post(api(`/jobs/${job}/complaints`))
      .send({ word: 'stalls', fromRpm: 900, toRpm: 1400, fromThrottle: 0, toThrottle: 2 })
    report = (
      await server
        .call()
        .get(api(`/jobs/${job}/report.json`))
        .expect(200)
    ).body
  })

  it('every figure is the one that stands where it says', async () => {
    const figures = figuresOf(report)
    expect(figures.length).toBeGreaterThan(7)
    for (const { value, low, high, from } of figures) {
      const path = from.path
      const asked =
        from.method === 'GET' ? server.call().get(api(path)) : server.call().post(api(path)).send(from.body!)
      const { body } = await asked.expect(200)
      expect({ at: from.at, value }).toEqual({ at: from.at, value: pointedAt(body, from.at) })
      if (low !== null) expect(low).toBeLessThanOrEqual(value)
      if (high !== null) expect(high).toBeGreaterThanOrEqual(value)
    }
  })
  it('tells the truth of the case: power gained over the whole range, mixture put right, what was changed', () => {
    expect(report.power!.gains.filter((one) => one.name.startsWith('mean')).every((one) => one.figure.value > 0)).toBe(
      true,
    )
    expect(report.mixture.before!.typical.value).toBeGreaterThan(4)
    expect(report.mixture.after!.typical.value).toBeLessThan(1.5)
    expect(report.changes.map((one) => [one.zone, one.largest.value])).toEqual([
      ['cruise', expect.closeTo(6, 9)],
      // From +3 to +9 % is 1.09 / 1.03 of the fuel.
      ['full throttle', expect.closeTo(100 * (1.09 / 1.03 - 1), 9)],
    ])
  })
  it('says that nothing is corrected where no weather was noted', () => {
    expect(report.correction).toMatch(/^Power and torque uncorrected: SAE J1349 needs the weather/)
  })
  it('names what was not measured', () => {
    expect(report.notMeasured.complaints).toEqual(['stalls'])
    expect(report.complaints[0]!.said).toMatch(/Within .* of target/)
  })
  it.each(['customer', 'workshop'])('goes out as one page that needs nothing else, for the %s', async (reader) => {
    const { text } = await server
      .call()
      .get(api(`/jobs/${job}/report.html?for=${reader}`))
      .expect(200)
    expect(text).toContain('about &lt;5,000&gt;')
    expect(text).not.toMatch(/(src|href)=/)
    // Where a figure stands is told by the page, never by an address.
    expect(text.includes('<td>Baseline, Compare</td>')).toBe(reader === 'workshop')
    expect(text).not.toMatch(/\/jobs\/|\/gains\//)
    expect(text).toMatch(/\+\d+\.\d kW \[/)
    const inHp = await server
      .call()
      .get(api(`/jobs/${job}/report.html?for=${reader}&power=hp&torque=lb·ft&mixture=AFR`))
    expect(inHp.text).toMatch(/\+\d+\.\d hp \[/)
    expect(inHp.text).toMatch(/lb·ft upward/)
    expect(text).toContain('lambda 0.88')
    expect(inHp.text).toContain('AFR 12.9 on a gauge that shows 14.70 at lambda 1')
    expect(inHp.text).not.toMatch(/\d kW|\d N·m/)
    expect(inHp.headers['content-disposition']).toContain('filename="Curlew 437, report.html"')
  })
  it.each(['A4', 'letter'])('goes out as PDF with real text on %s', async (paper) => {
    const { body } = await server
      .call()
      .get(api(`/jobs/${job}/report.pdf?paper=${paper}`))
      .buffer()
      .parse(asBytes)
      .expect(200)
    const pdf = (body as Buffer).toString('latin1')
    expect(pdf.startsWith('%PDF-')).toBe(true)
    expect(pdf).toMatch(paper === 'A4' ? /MediaBox \[0 0 595\.28/ : /MediaBox \[0 0 612/)
    expect(pdf).toContain('/ToUnicode')
    expect(pdf).not.toContain('/Subtype /Image')
  })
})

it('without runs after it prints the rest and says what is missing', async () => {
  const job = await tunedJob(false)
  const { body } = await server
    .call()
    .get(api(`/jobs/${job}/report.json`))
    .expect(200)
  expect(body.power).toBeNull()
  expect(body.mixture.before.typical.value).toBeGreaterThan(4)
  expect(body.notMeasured.runs).toContain('no runs after: nothing is told of before against after')
  await server
    .call()
    .get(api(`/jobs/${job}/report.pdf`))
    .buffer()
    .parse(asBytes)
    .expect(200)
})
it('of an empty job is a report, too', async () => {
  const job = await server.newJob()
  const { body } = await server
    .call()
    .get(api(`/jobs/${job}/report.json`))
    .expect(200)
  expect(figuresOf(body)).toEqual([])
  await server
    .call()
    .get(api(`/jobs/${job}/report.html`))
    .expect(200)
})
it('the verdict comes from data once three runs are there', async () => {
  const off = await tunedJob(false)
  const { body: verdict } = await server
    .call()
    .get(api(`/jobs/${off}/verdict`))
    .expect(200)
  expect(verdict).toMatchObject({ retune: true, enough: false })
  expect(verdict.why.join(' ')).toMatch(/lean at/)
  const flat = await tunedJob(true)
  expect((await server.call().get(api(`/jobs/${flat}/verdict`))).body).toMatchObject({
    retune: false,
    enough: true,
    level: null,
  })
})
