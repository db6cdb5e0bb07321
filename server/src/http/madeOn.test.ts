import type { RunInfo, TableInfo } from '@yuzumix/core'
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
  rpm: [1500, 3200, 4600, 5900, 7300, 8700],
  load: [5, 16, 33, 57, 81, 100],
}
const TRUE_VALUES = GRID.load.map((load) => GRID.rpm.map((rpm) => 6 + 0.21 * load + rpm / 1900))
const FLAT = GRID.load.map(() => GRID.rpm.map(() => 100))
const SHORT: Shed = { ...SHED, seed: 21, need: (rpm, opening) => 0.05 * Math.sin(rpm / 1200) + 0.0006 * opening }
const RUNS = shedRides(SHORT, [16, 45, 81, 100], 3).map(shedCsv)

const send = (path: string, body: object) => server.call().post(api(path)).send(body)
const addTable = async (job: string, values: number[][]): Promise<TableInfo> =>
  (await send(`/jobs/${job}/tables`, { name: 'Fuel', table: { ...GRID, values } }).expect(201)).body as TableInfo
const addRuns = async (job: string): Promise<void> => {
  for (const [k, content] of RUNS.entries()) await server.upload(job, content, { name: `R${k}` }).expect(201)
}
const changeOf = (job: string, table: string) => send(`/jobs/${job}/change`, { table })
const valuesOf = async (job: string, table: string): Promise<number[][]> =>
  (await changeOf(job, table).expect(200)).body.values as number[][]

describe('a table that comes after its runs', () => {
  let first: number[][]
  beforeAll(async () => {
    const job = await server.newJob()
    const table = await addTable(job, TRUE_VALUES)
    await addRuns(job)
    first = await valuesOf(job, table.id)
  })

  it('is the state they were made on: the change is as with the table first', async () => {
    const job = await server.newJob()
    await addRuns(job)
    const table = await addTable(job, TRUE_VALUES)
    expect(await valuesOf(job, table.id)).toEqual(first)
  })

  it('of which several states were saved with no run between is asked about once, and then right', async () => {
    const job = await server.newJob()
    await addRuns(job)
    const table = await addTable(job, FLAT)
    const step = { values: TRUE_VALUES, parent: 1, reason: 'the true values, pasted' }
    // A placeholder that is corrected is a large step, and asked about.
    await send(`/jobs/${job}/tables/${table.id}/revisions`, step).expect(409)
    await send(`/jobs/${job}/tables/${table.id}/revisions`, { ...step, override: 'it held a placeholder' }).expect(201)
    const asked = (await changeOf(job, table.id).expect(409)).body
    expect(asked.title).toBe('Which state were they made on?')
    expect(asked.untold).toEqual([{ table: table.id, runs: expect.any(Array), revisions: [1, 2] }])
    expect(asked.detail).toMatch(/Of 12 runs .* "Fuel" .* 1 \("As it was at first"\), 2 \("the true values, pasted"\)/)
    await send(`/jobs/${job}/next-run`, {}).expect(409)
    // Nothing but what was asked can be answered.
    await send(`/jobs/${job}/made-on`, { table: table.id, revision: 3 }).expect(400)
    const bound = (await send(`/jobs/${job}/made-on`, { table: table.id, revision: 2 }).expect(200)).body as RunInfo[]
    expect(bound).toHaveLength(RUNS.length)
    expect(bound.every((run) => run.revisions[table.id] === 2)).toBe(true)
    const now = await valuesOf(job, table.id)
    const off = now.flatMap((row, r) => row.map((value, c) => 100 * (value / first[r]![c]! - 1)))
    expect(Math.sqrt(off.reduce((sum, one) => sum + one * one, 0) / off.length)).toBeLessThan(1)
    expect(Math.max(...off.map(Math.abs))).toBeLessThan(3)
    await send(`/jobs/${job}/made-on`, { table: table.id, revision: 1 }).expect(400)
    const entries = (await server.call().get(api(`/jobs/${job}/entries`))).body as { act: string; text: string }[]
    expect(entries.find((one) => one.act === 'runs made on')!.text).toMatch(/12 runs: revision 2 of Fuel, as asked/)
  })

  it('is not asked about where a run lies between, or where the next state came of the runs', async () => {
    const job = await server.newJob()
    await addRuns(job)
    const table = await addTable(job, TRUE_VALUES)
    const [run] = (await server.call().get(api(`/jobs/${job}/runs`))).body as RunInfo[]
    const more = { values: TRUE_VALUES.map((row) => row.map((one) => 1.02 * one)), parent: 1, reason: 'from the runs' }
    await send(`/jobs/${job}/tables/${table.id}/revisions`, { ...more, runs: [run!.id] }).expect(201)
    await changeOf(job, table.id).expect(200)
  })
})
