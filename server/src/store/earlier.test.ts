import { mkdir, readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { gunzipSync } from 'node:zlib'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { DEFAULT_PLAN, type Job, type RunInfo, type RunSet, type TableInfo } from '@yuzumix/core'
import { api, testServer, type TestServer } from '../testServer'
import { migrations } from './migrations'

/** What an earlier version wrote, after the first five migrations: its store, and the archive of the job in it. */
const earlier = (name: string): Promise<Buffer> => readFile(join(__dirname, 'earlier', name))

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const get = async <T>(path: string): Promise<T> => (await server.call().get(api(path)).expect(200)).body as T

async function openEarlier(change?: string): Promise<Job> {
  await server.store.close()
  await mkdir(server.folder, { recursive: true })
  await writeFile(join(server.folder, 'yuzumix.sqlite'), gunzipSync(await earlier('store-0005.sqlite.gz')))
  if (change) {
    const { openStore } = await import('./database')
    const store = await openStore(server.folder, migrations.slice(0, 5))
    await store.sequelize.query(change)
    await store.close()
  }
  await server.open()
  return (await get<Job[]>('/jobs'))[0]!
}

describe('a store of an earlier version', () => {
  it('opens with all that was in it', async () => {
    const job = await openEarlier()
    expect(job).toMatchObject({ title: 'Heron 388, a store of an earlier version', runCount: 3, tableCount: 1 })
    const runs = await get<RunInfo[]>(`/jobs/${job.id}/runs`)
    expect(runs.map((run) => [run.name, run.kind, run.samples])).toEqual([
      ['sweep 40 a', 'sweep', 250],
      ['sweep 40 b', 'sweep', 250],
      ['Hand readings, 2 points', 'hand readings', 2],
    ])
    expect(runs[0]!.leftOut).toEqual({ fromRpm: 3000, toRpm: 3100, reason: 'wheel slipped' })
    expect(runs[1]!.setting).toEqual({ advance: 28, knock: false })
    const [table] = await get<TableInfo[]>(`/jobs/${job.id}/tables`)
    expect(table!.revisions.map(({ n, reason, runs: on }) => [n, reason, on.length])).toEqual([
      [1, 'As it was at first', 0],
      [2, 'Guided loop, after pass 1', 1],
    ])
    expect(table!.table.values[1]).toEqual([12.4, 13.4, 14])
    expect(Object.values(runs[1]!.revisions)).toEqual([2])
  })

  it('has the passes of the guided loop that were known by name', async () => {
    const job = await openEarlier(`UPDATE sets SET name = 'Pass 20261125' WHERE name = 'Pass 2'`)
    const sets = await get<RunSet[]>(`/jobs/${job.id}/sets`)
    expect(sets.map(({ name, pass }) => [name, pass])).toEqual([
      ['Pass 1', 1],
      ['Pass 20261125', null],
    ])
  })

  it('has its plan by the names of today', async () => {
    const plan = { ...DEFAULT_PLAN, school: 'wide open first', depth: 'full work' } as Record<string, unknown>
    const { order: _order, service: _service, ...stored } = plan
    const job = await openEarlier(`UPDATE jobs SET data = json_set(data, '$.plan', json('${JSON.stringify(stored)}'))`)
    expect(job.plan).toEqual({ ...DEFAULT_PLAN, order: 'wide open first', service: 'full work' })
  })

  it.each([
    ['all of them', 'NULL'],
    ['the advance', `json_remove(facts, '$.spark')`],
    ['how many settled readings, and where', `json_remove(facts, '$.settled', '$.settledFromRpm')`],
    ['the sweeps inside', `json_remove(facts, '$.sweeps')`],
  ])('gets the facts told that its runs lack: %s', async (_what, facts) => {
    const whole = await get<RunInfo[]>(`/jobs/${(await openEarlier()).id}/runs`)
    const job = await openEarlier(`UPDATE runs SET facts = ${facts}`)
    const runs = await get<RunInfo[]>(`/jobs/${job.id}/runs`)
    expect(runs.map((run) => run.facts)).toEqual(whole.map((run) => run.facts))
    expect(runs[0]!.facts).toMatchObject({ stop: 40, spark: 28 })
  })
})

describe('an archive of an earlier version', () => {
  it('is read with all that is in it', async () => {
    const { body } = await server
      .call()
      .post(api('/archives'))
      .attach('file', await earlier('job-archive.zip'), 'job.zip')
      .expect(201)
    const job = body as Job
    expect(job).toMatchObject({ title: 'Heron 388, a store of an earlier version', runCount: 3, tableCount: 1 })
    const [runs, sets] = [await get<RunInfo[]>(`/jobs/${job.id}/runs`), await get<RunSet[]>(`/jobs/${job.id}/sets`)]
    expect(runs[0]).toMatchObject({ name: 'sweep 40 a', set: sets[0]!.id, leftOut: { reason: 'wheel slipped' } })
    expect(runs[1]!.setting).toEqual({ advance: 28, knock: false })
    expect(job.mixture.set).toBe(sets[1]!.id)
  })

  it('of a job with a plan has it by the names of today', async () => {
    const files = unzipSync(new Uint8Array(await earlier('job-archive.zip')))
    const file = JSON.parse(strFromU8(files['job.json']!)) as { job: object }
    const { order, service, ...rest } = DEFAULT_PLAN
    Object.assign(file.job, { plan: { ...rest, school: order, depth: service } })
    const zip = zipSync({ ...files, 'job.json': strToU8(JSON.stringify(file)) })
    const { body } = await server.call().post(api('/archives')).attach('file', Buffer.from(zip), 'job.zip').expect(201)
    expect((body as Job).plan).toEqual(DEFAULT_PLAN)
  })
})
