import type { WayTold } from '@yuzumix/core'
import { asCsv, GRID, knownCase, knownRuns } from '../../../core/trials/knownTruthLog'
import { api, testServer, TABLE, type TestServer } from '../testServer'

let server: TestServer
let job: string
beforeAll(async () => {
  server = await testServer()
  job = await server.newJob()
})
afterAll(() => server.stop())
const ask = (body: object, of = job) =>
  server
    .call()
    .post(api(`/jobs/${of}/ways`))
    .send(body)

/** Straight lines in throttle, the same at every speed. */
const WANTED = {
  rpm: [2000, 4000, 6000, 8000],
  load: [10, 40, 70, 100],
  pct: [0, 3, 6, 9].map((pct) => [pct, pct, pct, pct]),
}
const tellsOf = async (ways: object[], wanted: object = WANTED): Promise<WayTold[]> =>
  (await ask({ wanted, ways }).expect(200)).body as WayTold[]

describe('POST /jobs/{job}/ways', () => {
  it('answers in the order asked, of a change that is said and needs no runs', async () => {
    const told = await tellsOf([
      { kind: 'global' },
      { kind: 'coarse', rpmPoints: 2, loadPoints: 2 },
      { kind: 'bands', axis: 'throttle', bands: 2, edges: [55] },
      { kind: 'strips', threshold: 55, rpm: [2000, 8000] },
      { kind: 'table' },
      { kind: 'pressure', kPa: 300 },
      { kind: 'injectors', from: { flow: 200, deadMs: 0.8 }, to: { flow: 250, deadMs: 0.9 } },
    ])
    expect(told.map((one) => one.kind)).toEqual([
      'global',
      'coarse',
      'bands',
      'strips',
      'table',
      'pressure',
      'injectors',
    ])
    const [global, coarse, bands, strips, table, pressure, injectors] = told as never as [
      ...Record<string, { [of: string]: number } & { values: number[] }>[],
    ] as { settings: Record<string, number> & { values: number[] } }[]
    // 9 % wanted at full load, at most 2 % lean left there.
    expect(global!.settings['pct']).toBeCloseTo((1.09 / 1.02 - 1) * 100, 6)
    expect(coarse!.settings['rpm']).toHaveLength(2)
    expect(told[1]!.left.rmsPct).toBeLessThan(0.01)
    expect(bands!.settings.values[1]).toBeGreaterThanOrEqual((1.09 / 1.02 - 1) * 100 - 1e-9)
    expect((strips!.settings['high'] as never as number[])[0]).toBeGreaterThan(5)
    expect(told[4]!.left.rmsPct).toBeLessThan(1e-6)
    expect(table!.settings.values).toEqual(WANTED.pct)
    expect(pressure!.settings['kPa']).toBeCloseTo(300 * (1.09 / 1.02) ** 2, 6)
    expect(injectors!.settings['pulseFactor']).toBeCloseTo(0.8 * 1.03, 12)
    expect(injectors!.settings['deadMsChange']).toBeCloseTo(0.1, 12)
    expect(told[6]!.residualPct[0]![0]).toBeCloseTo((1 / 1.03 - 1) * 100, 9)
  })

  it('says what is wrong with a way, and where', async () => {
    const faultOf = async (way: object): Promise<{ field: string; message: string }> => {
      const { body } = await ask({ wanted: WANTED, ways: [{ kind: 'global' }, way] }).expect(400)
      return (body as { errors: { field: string; message: string }[] }).errors[0]!
    }
    expect(
      await faultOf({ kind: 'coarse', rpmPoints: 3, loadPoints: 2, rpmStep: 250, rpm: [2000, 2100, 8000] }),
    ).toEqual({ field: 'ways[1].rpm[1]', message: '2100 stands closer to 2000 than the raster of 250 rpm' })
    expect((await faultOf({ kind: 'coarse', rpmPoints: 24, loadPoints: 2, rpmStep: 1000 })).field).toBe(
      'ways[1].rpmPoints',
    )
    expect((await faultOf({ kind: 'strips', threshold: 5, rpm: [2000, 8000] })).field).toBe('ways[1].threshold')
    expect((await faultOf({ kind: 'bands', axis: 'rpm', bands: 3, edges: [4000] })).field).toBe('ways[1].edges')
    expect((await faultOf({ kind: 'bands', axis: 'rpm', bands: 2, edges: [9000] })).message).toMatch(/nothing of 2000/)
    expect((await faultOf({ kind: 'pressure', kPa: 300, mostKpa: 280 })).field).toBe('ways[1].mostKpa')
    expect((await faultOf({ kind: 'pressure', kPa: 300, manifoldKpa: 300 })).field).toBe('ways[1].kPa')
    expect((await faultOf({ kind: 'tape' })).field).toBe('ways[1].kind')
    expect((await faultOf({ kind: 'global', table: 'none' })).message).toMatch(/no table/)
    await ask({ wanted: { ...WANTED, pct: [[1]] }, ways: [{ kind: 'global' }] }).expect(400)
    await ask({ wanted: WANTED, ways: [] }).expect(400)
    const nothing = WANTED.pct.map((row) => row.map(() => null))
    await ask({ wanted: { ...WANTED, pct: nothing }, ways: [{ kind: 'global' }] }).expect(422)
    await ask({ ways: [{ kind: 'global' }] }).expect(422)
  })

  it('rescales the pulses of a table, tells their duty, and names a cell whose pulse is over too soon', async () => {
    const pulses = {
      ...TABLE,
      kind: 'fuel base',
      rpm: [2000, 6000, 10000],
      values: [
        [3, 4, 5],
        [8, 9, 10],
      ],
    }
    const { body } = await server
      .call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name: 'Pulse, ms', table: pulses })
      .expect(201)
    const { id } = body as { id: string }
    const swap = { kind: 'injectors', table: id, from: { flow: 200, deadMs: 1 }, to: { flow: 200, deadMs: 1.2 } }
    const [told] = await tellsOf([{ ...swap, kPaFrom: 300, kPaTo: 300 }])
    const { dutyPct } = told!.settings as { dutyPct: number[][] }
    // 10 ms: 9 of them open, 3 % more, 1.2 of dead time; at 10,000 rpm two turns take 12 ms.
    expect(dutyPct[1]![2]).toBeCloseTo(((9 * 1.03 + 1.2) / 12) * 100, 9)
    expect((told!.cautions as never as string[]).join()).toMatch(
      /1 cell above 85 % duty, 87 % at 10\D000 rpm and 100 %/,
    )
    const late = await ask({ wanted: WANTED, ways: [{ ...swap, from: { flow: 200, deadMs: 3 } }] }).expect(400)
    expect((late.body as { errors: { message: string }[] }).errors[0]!.message).toMatch(
      /3 ms is no shorter than the pulse of 3.000 ms at 2000 rpm and 20/,
    )
    await ask({ wanted: WANTED, ways: [{ ...swap, kPaFrom: 300 }] }).expect(400)
  })

  it('takes the change from the field: its estimate, neither shrunk nor clamped', async () => {
    const own = await server.newJob()
    const truth = (rpm: number, load: number): number => 0.24 + 0.02 * Math.sin(rpm / 1400) - 0.0004 * load
    const flat = { target: GRID.load.map(() => GRID.rpm.map(() => 0.9)) }
    const c = knownCase(78, { truth, ...flat })
    for (const run of knownRuns(c)) await server.upload(own, asCsv(run), { name: run.id }).expect(201)
    const { body } = await ask(
      { rpm: c.grid.rpm, load: c.grid.load, target: 0.9, ways: [{ kind: 'table' }, { kind: 'global' }] },
      own,
    ).expect(200)
    const [table, global] = body as WayTold[]
    const { values } = table!.settings as { values: number[][] }
    const row = c.grid.load.indexOf(c.stops.at(-1)!)
    const column = c.grid.rpm.findIndex((rpm) => rpm >= 6000)
    // Far beyond the 15 % that one pass may go.
    expect(values[row]![column]).toBeGreaterThan(16)
    expect(values[row]![column]).toBeCloseTo(100 * (Math.exp(truth(c.grid.rpm[column]!, c.grid.load[row]!)) - 1), -0.3)
    expect(global!.left.rmsPct).toBeGreaterThan(0.5)
    const none = await ask({ cylinder: 9, ways: [{ kind: 'global' }] }, own).expect(400)
    expect((none.body as { detail: string }).detail).toMatch(/they tell of 1/)
  })
})
