import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { ALL_CALLS, type Danger, type TableInfo } from '@yuzumix/core'
import { api, asBytes, CSV } from '../testServer'
import { CURLEW, testBench, type TestBench } from '../testBench'

let bench: TestBench
beforeAll(async () => {
  bench = await testBench()
})
afterAll(() => bench.stop())

const call = () => bench.server.call()
const newJob = (body?: object) => bench.server.newJob(body)
const send = (method: 'post' | 'patch' | 'put' | 'delete', path: string, body: object = {}) =>
  call()[method](api(path)).send(body)

const GRID = { composition: 'multiply', loadAxis: 'throttle', rpm: [3100, 5700, 8300], load: [12, 44, 91] }
const rows = (value: number): number[][] => GRID.load.map(() => GRID.rpm.map(() => value))
const grip = (steepness: number): number[][] =>
  GRID.load.map((load) => GRID.rpm.map(() => Math.min(100, steepness * load)))
/** A sound table of each kind, and a state of it that goes too far. */
const KINDS = {
  'fuel step': ['fuel base', rows(41), rows(30)],
  'spark step': ['spark base', rows(27), rows(33)],
  'plate step': ['plate', grip(0.5), grip(1)],
  'acceleration step': ['acceleration fuel', rows(9), rows(1)],
  'target step': ['lambda target', rows(0.88), rows(0.94)],
} as const
type Stepped = keyof typeof KINDS
const steppedOf = (danger: string): (typeof KINDS)[Stepped] => KINDS[danger as Stepped]

async function jobWithTable(danger: string): Promise<{ job: string; table: string; far: number[][] }> {
  const [kind, values, far] = steppedOf(danger)
  const job = await newJob()
  const { body } = await send('post', `/jobs/${job}/tables`, { name: 'T', table: { ...GRID, kind, values } }).expect(
    201,
  )
  return { job, table: (body as TableInfo).id, far: far as number[][] }
}
const LEAN = {
  target: { preset: 'road-13.0', zones: [{ fromRpm: 0, toRpm: 12000, fromLoad: 0, toLoad: 100, lambda: 1.4 }] },
  lagMs: null,
  filters: {},
  leaveOutOdd: true,
  runsLeftOut: [],
}

/** Does the dangerous thing at a door; with a reason where one is given. @returns the answer, and the job whose logbook tells of it */
type Attempt = (danger: Danger['kind'], override?: string) => Promise<{ status: number; body: Refused; job?: string }>
interface Refused {
  title?: string
  detail?: string
  errors?: { field: string; message: string }[]
  id?: string
}
const told = ({ status, body }: { status: number; body: unknown }, job?: string) => ({
  status,
  body: body as Refused,
  ...(job && { job }),
})
const why = (override?: string): object => (override ? { override } : {})

async function archiveOf(job: string, change: (file: ArchiveFile) => void): Promise<Buffer> {
  const { body } = await call()
    .get(api(`/jobs/${job}/archive`))
    .buffer(true)
    .parse(asBytes)
  const files = unzipSync(body as Buffer)
  const file = JSON.parse(strFromU8(files['job.json']!)) as ArchiveFile
  change(file)
  return Buffer.from(zipSync({ ...files, 'job.json': strToU8(JSON.stringify(file)) }))
}
interface ArchiveFile {
  job: Record<string, unknown>
  tables: { revisions: { n: number; cells: number[][]; reason: string; parent: number | null }[] }[]
}

/** A bench whose kept fuel lies 20 % above what was in it first. */
async function changedBench(): Promise<string> {
  const job = await newJob()
  const state = await bench.connect(job)
  const base = state.tables.find((one) => one.id === 'base')!.table
  const values = base.values.map((cells) => cells.map((cell) => 1.2 * cell))
  await bench.post(job, 'tables/base', { values }).expect(200)
  await bench.post(job, 'keep').expect(200)
  return job
}

const DOORS: Record<string, Attempt> = {
  'post /jobs': async (_danger, override) => {
    const { status, body } = await send('post', '/jobs', { title: 'J', mixture: LEAN, ...why(override) })
    return { status, body, ...(body.id && { job: body.id as string }) }
  },
  'patch /jobs/{job}': async (danger, override) => {
    const job = await newJob({ title: 'J', limits: { revCeiling: 8000, revReason: 'tired springs' } })
    const change = danger === 'lean target' ? { mixture: LEAN } : { limits: { revCeiling: 9500 } }
    return told(await send('patch', `/jobs/${job}`, { ...change, ...why(override) }), job)
  },
  'post /jobs/{job}/ways/take': async (_danger, override) => {
    const job = await newJob()
    const wanted = { rpm: GRID.rpm, load: GRID.load, pct: rows(-9) }
    return told(
      await send('post', `/jobs/${job}/ways/take`, { wanted, way: { kind: 'global' }, ...why(override) }),
      job,
    )
  },
  'delete /jobs/{job}': async (_danger, override) => {
    const job = await changedBench()
    await send('delete', `/jobs/${job}/bench`).expect(204)
    return told(await send('delete', `/jobs/${job}${override ? `?override=${encodeURIComponent(override)}` : ''}`))
  },
  'post /archives': async (danger, override) => {
    const isStep = danger.endsWith('step')
    const { job, table, far } = await jobWithTable(isStep ? danger : 'fuel step')
    const { body: info } = await call().get(api(`/jobs/${job}/tables/${table}`))
    await send('post', `/jobs/${job}/tables/${table}/revisions`, {
      values: info.table.values,
      reason: 'the same',
      parent: 1,
    }).expect(201)
    const content = await archiveOf(job, (file) => {
      if (danger === 'lean target') file.job['mixture'] = LEAN
      else if (danger === 'table values') file.tables[0]!.revisions.forEach((one) => (one.cells = rows(0)))
      else Object.assign(file.tables[0]!.revisions[1]!, { cells: far, reason: 'rounded' })
    })
    const post = call().post(api('/archives'))
    if (override) void post.field('override', override)
    const { status, body } = await post.attach('file', content, 'a.zip')
    return { status, body, ...(body.id && { job: body.id as string }) }
  },
  'patch /jobs/{job}/runs/{run}': async (_danger, override) => {
    const { job, table } = await jobWithTable('fuel step')
    const { body: run } = await bench.server.upload(job, CSV).expect(201)
    await send('post', `/jobs/${job}/tables/${table}/revisions`, { values: rows(42), reason: 'r', parent: 1 }).expect(
      201,
    )
    const change = { revisions: { [table]: 2 }, ...why(override) }
    return told(await send('patch', `/jobs/${job}/runs/${run.id}`, change), job)
  },
  'patch /jobs/{job}/runs': async (_danger, override) => {
    const { job, table } = await jobWithTable('fuel step')
    const { body: run } = await bench.server.upload(job, CSV).expect(201)
    await send('post', `/jobs/${job}/tables/${table}/revisions`, { values: rows(42), reason: 'r', parent: 1 }).expect(
      201,
    )
    const change = { runs: [run.id], revisions: { [table]: 2 }, ...why(override) }
    return told(await send('patch', `/jobs/${job}/runs`, change), job)
  },
  'post /jobs/{job}/tables': async (_danger, override) => {
    const job = await newJob()
    const table = { ...GRID, kind: 'spark base', values: rows(70) }
    return told(await send('post', `/jobs/${job}/tables`, { name: 'T', table, ...why(override) }), job)
  },
  'post /jobs/{job}/tables/{table}/revisions': async (danger, override) => {
    const { job, table, far } = await jobWithTable(danger)
    const body = { values: far, reason: 'r', parent: 1, ...why(override) }
    return told(await send('post', `/jobs/${job}/tables/${table}/revisions`, body), job)
  },
  'post /jobs/{job}/revisions': async (danger, override) => {
    const { job, table, far } = await jobWithTable(danger)
    const revisions = [{ table, values: far, reason: 'r', parent: 1, ...why(override) }]
    return told(await send('post', `/jobs/${job}/revisions`, { revisions }), job)
  },
  'post /jobs/{job}/shelf-start': async (danger, override) => {
    const isStep = danger.endsWith('step')
    const { job: from, table, far } = await jobWithTable(isStep ? danger : 'fuel step')
    if (isStep)
      await send('post', `/jobs/${from}/tables/${table}/revisions`, {
        values: far,
        reason: 'r',
        parent: 1,
        override: 'another machine',
      }).expect(201)
    const { body: shelf } = await send('post', '/shelf', { job: from, name: 'S', table }).expect(201)
    const job = isStep ? (await jobWithTable(danger)).job : await newJob()
    return told(await send('post', `/jobs/${job}/shelf-start`, { shelf: shelf.id, ...why(override) }), job)
  },
}
const BENCH = '/jobs/{job}/bench'
const other: Attempt = () => Promise.reject(new Error('is tried below'))
/** Doors of the bench: somebody else drives, the engine runs, or the step is too large. */
const BENCH_DOORS: Record<string, (job: string, danger: Danger['kind'], override?: string) => ReturnType<typeof send>> =
  {
    [`put ${BENCH}`]: (job, _danger, override) =>
      send('put', `/jobs/${job}/bench`, { maker: 'simulated', machine: CURLEW, coolantC: 84, ...why(override) }),
    [`delete ${BENCH}`]: (job) => send('delete', `/jobs/${job}/bench`),
    [`patch ${BENCH}/faults`]: (job) => send('patch', `/jobs/${job}/bench/faults`, { lowBattery: 2 }),
    [`post ${BENCH}/calibrate/{step}`]: (job) => bench.post(job, 'calibrate/closed'),
    ...Object.fromEntries(
      ['keep', 'restore', 'recover', 'power-cycle'].map((act) => [
        `post ${BENCH}/${act}`,
        // They take no reason: nothing lets them pass.
        (job: string) => bench.post(job, act),
      ]),
    ),
    [`post ${BENCH}/tables/{table}`]: (job, _danger, override) =>
      bench.post(job, 'tables/base', { values: [[0]], ...why(override) }),
    [`post ${BENCH}/ways/{kind}`]: (job, _danger, override) =>
      bench.post(job, 'ways/global', { settings: { pct: -8 }, ...why(override) }),
    'put /jobs/{job}/training/bench': (job) => send('put', `/jobs/${job}/training/bench`, { speed: 1 }),
    'post /jobs/{job}/training/acts': (job) => send('post', `/jobs/${job}/training/acts`, { act: 'plugs' }),
  }

/** Every door through which something can reach an engine, with all that is looked at there. */
const LISTED = ALL_CALLS.flatMap(({ method, path, gate }) =>
  typeof gate === 'string' ? [] : gate.map((danger) => ({ door: `${method} ${path}`, danger })),
)

describe('one gate at every door', () => {
  it('each door of the list is tried here', () => {
    const doors = [...new Set(LISTED.map((one) => one.door))]
    expect(doors.filter((door) => !DOORS[door] && !BENCH_DOORS[door])).toEqual([])
  })
  it.each(LISTED.filter(({ door }) => DOORS[door]))(
    '$door, $danger: asks for a reason, takes it, and both stand in the logbook',
    async ({ door, danger }) => {
      const attempt = DOORS[door] ?? other
      const refused = await attempt(danger)
      expect(refused.status).toBe(409)
      expect(refused.body.errors![0]!.field).toMatch(/override$/)
      const logOf = async (job: string): Promise<string> =>
        JSON.stringify((await call().get(api(`/jobs/${job}/entries`))).body)
      if (refused.job) expect(await logOf(refused.job)).toContain('asked for a reason')
      const taken = await attempt(danger, 'it was measured elsewhere')
      expect(taken.status).toBeLessThan(300)
      if (taken.job) expect(await logOf(taken.job)).toContain('it was measured elsewhere (')
    },
  )

  it('while somebody else drives nobody writes, keeps, restores, or connects another bench', async () => {
    const job = await changedBench()
    const { body: training } = await send('post', '/trainer/cases/runs-out').expect(201)
    await send('put', `/jobs/${training.id}/training/bench`, { speed: 1 }).expect(201)
    const drivers = await Promise.all(
      [job, training.id as string].map(async (one) => {
        const driver = await bench.watcher(one)
        driver.say({ act: 'drive' })
        await driver.until(() => driver.news.some((news) => news.you))
        return driver
      }),
    )
    const doors = LISTED.filter((one) => one.danger === 'somebody else drives').map((one) => one.door)
    expect(doors.length).toBeGreaterThan(9)
    for (const door of doors) {
      const answer = await BENCH_DOORS[door]!(
        door.includes('training') ? training.id : job,
        'somebody else drives',
        'w',
      )
      expect([door, answer.status, (answer.body as Refused).title]).toEqual([door, 409, 'Somebody else drives'])
    }
    expect(bench.server.benches.of(job)!.link.state()).toMatchObject({ changed: true })
    drivers.forEach((one) => one.socket.close())
  })

  it('the engine stands still for every write, keep and restore', async () => {
    const job = await changedBench()
    const driver = await bench.watcher(job)
    driver.say({ act: 'drive' })
    driver.say({ act: 'set', controls: { ignition: true, fuel: true } })
    await driver.until(() => (driver.samples.at(-1)?.rpm ?? 0) > 900)
    for (const path of ['tables/base', 'keep', 'restore', 'recover']) {
      const body = path.startsWith('tables') ? { values: [[0]], override: 'w' } : {}
      const { body: refused } = await bench.post(job, path, body, driver.me).expect(409)
      expect(refused).toMatchObject({ title: 'The engine runs' })
    }
    driver.socket.close()
  })

  it('restoring, and a new bench over what is not kept, are asked about as any other step', async () => {
    const job = await changedBench()
    const asked = await bench.post(job, 'restore').expect(409)
    expect(asked.body).toMatchObject({ title: 'A large step of fuel' })
    expect(asked.body.detail).toMatch(/^Restoring what was there first: .* cells move far/)
    expect(
      (await bench.post(job, 'restore', { override: 'sold as it came' }).expect(200)).body.controller.changed,
    ).toBe(false)
    const state = bench.server.benches.of(job)!
    const base = (await state.link.tables()).find((one) => one.id === 'base')!.table
    await bench.post(job, 'tables/base', { values: base.values.map((r) => r.map((c) => 1.02 * c)) }).expect(200)
    const again = { maker: 'simulated', machine: CURLEW, coolantC: 84 }
    expect((await send('put', `/jobs/${job}/bench`, again).expect(409)).body.title).toBe('The controller was changed')
    await send('put', `/jobs/${job}/bench`, { ...again, override: 'a mistake' }).expect(201)
  })

  it('the stream of a bench that is replaced or let go ends', async () => {
    const job = await newJob()
    await bench.connect(job)
    const watcher = await bench.watcher(job)
    await bench.connect(job, {}, false)
    await watcher.until(() => watcher.isGone)
    const second = await bench.watcher(job)
    await send('delete', `/jobs/${job}`, {}).expect(409)
    await send('delete', `/jobs/${job}?override=a+trial`, {}).expect(204)
    await second.until(() => second.isGone)
    expect(bench.server.benches.of(job)).toBeNull()
  })
})
