import type { RunInfo } from '@yuzumix/core'
import { api, CSV, TABLE, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

const runsOf = async (job: string): Promise<RunInfo[]> =>
  (await server.call().get(api(`/jobs/${job}/runs`))).body as RunInfo[]
const change = (job: string, body: object) =>
  server
    .call()
    .patch(api(`/jobs/${job}/runs`))
    .send(body)
/** A job with four runs. */
async function jobWithRuns(): Promise<{ job: string; ids: string[] }> {
  const job = await server.newJob()
  for (const k of [1, 2, 3, 4]) await server.upload(job, CSV.replace('3000', `300${k}`), { name: `R${k}` }).expect(201)
  return { job, ids: (await runsOf(job)).map((run) => run.id) }
}

describe('several runs changed at once', () => {
  it('are moved, left out, renamed and taken out, each with one line in the logbook', async () => {
    const { job, ids } = await jobWithRuns()
    const set = (
      await server
        .call()
        .post(api(`/jobs/${job}/sets`))
        .send({ name: 'Second afternoon' })
    ).body.id as string
    const three = [ids[2], ids[0], ids[1]]
    const moved = (await change(job, { runs: three, set }).expect(200)).body as RunInfo[]
    expect(moved.map((run) => [run.id, run.set])).toEqual(three.map((id) => [id, set]))
    await change(job, {
      runs: three,
      name: 'Pull # of 3',
      leftOut: { fromRpm: null, toRpm: null, reason: 'rain' },
    }).expect(200)
    expect((await runsOf(job)).map((run) => [run.name, run.leftOut?.reason ?? ''])).toEqual([
      ['Pull 2 of 3', 'rain'],
      ['Pull 3 of 3', 'rain'],
      ['Pull 1 of 3', 'rain'],
      ['R4', ''],
    ])
    await change(job, { runs: three, name: 'Wet' }).expect(200)
    expect((await runsOf(job)).map((run) => run.name)).toEqual(['Wet 2', 'Wet 3', 'Wet 1', 'R4'])
    await change(job, { runs: [ids[3]], name: 'Dry' }).expect(200)
    expect((await runsOf(job)).at(-1)!.name).toBe('Dry')
    await change(job, { runs: [ids[3]], name: 'R4' }).expect(200)
    await change(job, { runs: three, removed: true }).expect(200)
    expect((await runsOf(job)).map((run) => run.name)).toEqual(['R4'])
    await change(job, { runs: three, removed: false }).expect(200)
    expect(await runsOf(job)).toHaveLength(4)
    const { body: lines } = await server.call().get(api(`/jobs/${job}/entries`))
    const said = (lines as { act: string; text: string }[]).map((one) => `${one.act}: ${one.text}`)
    for (const one of [
      'runs moved: 3 runs to Second afternoon: R3, R1, R2',
      'runs left out, renamed: 3 runs for rain, to Pull # of 3: R3, R1, R2',
      'runs taken out: 3 runs: Wet 1, Wet 2, Wet 3',
    ])
      expect(said).toContain(one)
  })
  it('are all of them changed, or none', async () => {
    const { job, ids } = await jobWithRuns()
    const other = await jobWithRuns()
    const [before, stranger] = [await runsOf(job), other.ids[0]]
    await change(job, { runs: [...ids, stranger], name: 'Mine' }).expect(400)
    await change(job, { runs: ids, set: 'nowhere' }).expect(400)
    await change(job, { runs: ids, revisions: { none: 1 } }).expect(400)
    await change(job, { runs: [ids[0], ids[0]], name: 'Twice' }).expect(400)
    await change(job, { runs: [], name: 'None' }).expect(400)
    expect(await runsOf(job)).toEqual(before)
    await change(other.job, { runs: [stranger], name: 'Mine' }).expect(200)
  })
  it('are pointed at another state of a table, as it is asked of one', async () => {
    const { job, ids } = await jobWithRuns()
    const table = (
      await server
        .call()
        .post(api(`/jobs/${job}/tables`))
        .send({ name: 'Fuel', table: TABLE })
        .expect(201)
    ).body.id as string
    await server
      .call()
      .post(api(`/jobs/${job}/tables/${table}/revisions`))
      .send({ values: TABLE.values.map((row: number[]) => row.map((one) => one * 1.01)), reason: 'r', parent: 1 })
      .expect(201)
    await change(job, { runs: ids, revisions: { [table]: 2 } }).expect(409)
    await change(job, { runs: ids, revisions: { [table]: 2 }, override: 'typed in late' }).expect(200)
    expect((await runsOf(job)).every((run) => run.revisions[table] === 2)).toBe(true)
    await change(job, { runs: ids, revisions: { [table]: 1 } }).expect(200)
    expect((await runsOf(job)).every((run) => run.revisions[table] === 1)).toBe(true)
  })
})
