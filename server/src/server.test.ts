import { readFileSync } from 'node:fs'
import { readdir } from 'node:fs/promises'
import { join } from 'node:path'
import Ajv from 'ajv/dist/2020'
import AjvDraft7 from 'ajv'
import { unzipSync, strFromU8, zipSync, strToU8 } from 'fflate'
import request from 'supertest'
import { parse } from 'yaml'
import type { FieldAnswer, RunInfo, TableInfo } from '@yuzumix/core'
import { asCsv, GRID, knownCase, knownRuns } from '../../core/reference/knownTruthLog'
import { testServer, type TestServer } from './testServer'

const root = join(__dirname, '../..')
let server: TestServer
const call = () => request(server.app)
const api = (path: string): string => `/api/v1${path}`

beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

const CSV = `time,rpm,throttle,lambda\n${Array.from({ length: 60 }, (_, i) => `${i / 50},${3000 + i},30,0.9${i % 10}`).join('\n')}\n`
const TABLE = {
  kind: 'fuel trim',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [2000, 4000, 6000],
  load: [20, 100],
  values: [
    [0, 1, 2],
    [3, 4, 5],
  ],
}

async function newJob(body: object = { title: 'A job' }): Promise<string> {
  return (await call().post(api('/jobs')).send(body).expect(201)).body.id as string
}
const upload = (job: string, content: string | Buffer, fields: Record<string, string> = {}) => {
  const post = call().post(api(`/jobs/${job}/runs`))
  for (const [name, value] of Object.entries(fields)) post.field(name, value)
  return post.attach('file', Buffer.from(content), 'log.csv')
}

describe('document and code', () => {
  const document = parse(readFileSync(join(root, 'docs/openapi.yaml'), 'utf8')) as {
    paths: Record<string, Record<string, unknown>>
    components: { schemas: object }
  }

  it('name the same calls', () => {
    const routes = new Set<string>()
    interface Layer {
      route?: { path: string | RegExp; methods: Record<string, boolean> }
      handle?: { stack?: Layer[] }
    }
    const walk = (stack: Layer[]): void =>
      stack.forEach((layer) => {
        if (layer.route && typeof layer.route.path === 'string')
          for (const method of Object.keys(layer.route.methods))
            routes.add(`${method} ${layer.route.path.replace(/:(\w+)/g, '{$1}')}`)
        if (layer.handle?.stack) walk(layer.handle.stack)
      })
    walk((server.app as unknown as { router: { stack: Layer[] } }).router.stack)
    const documented = Object.entries(document.paths).flatMap(([path, methods]) =>
      Object.keys(methods)
        .filter((key) => key !== 'parameters')
        .map((method) => `${method} ${path}`),
    )
    expect([...routes].sort()).toEqual(documented.sort())
  })

  it('answers are as the document says', async () => {
    const ajv = new Ajv({ strict: false, validateFormats: false })
    ajv.addSchema({ $id: 'api', components: document.components })
    const valid = (name: string, value: unknown): void => {
      const check = ajv.compile({ $ref: `api#/components/schemas/${name}` })
      check(value)
      expect({ name, errors: check.errors }).toEqual({ name, errors: null })
    }
    const job = await newJob()
    valid('Health', (await call().get(api('/health'))).body)
    valid('Job', (await call().get(api(`/jobs/${job}`))).body)
    valid('Run', (await upload(job, CSV)).body)
    valid(
      'TableInfo',
      (
        await call()
          .post(api(`/jobs/${job}/tables`))
          .send({ name: 'T', table: TABLE })
      ).body,
    )
    valid(
      'Field',
      (
        await call()
          .post(api(`/jobs/${job}/field`))
          .send({})
      ).body,
    )
    valid('Problem', (await call().post(api('/jobs')).send({})).body)
    valid('Entry', (await call().get(api(`/jobs/${job}/entries`))).body[0])
    expect((await call().get(api('/openapi.json'))).body).toEqual(document)
  })
})

describe('jobs', () => {
  it('need only a title, take the rest, and refuse what they do not know by name', async () => {
    await call()
      .post(api('/jobs'))
      .send({
        title: 'Whimbrel 250',
        machine: { name: 'Whimbrel', cylinders: 1, displacementCc: 249, strokes: 4 },
        fuel: { id: 'e10' },
        gaugeScale: 14.1,
        use: 'track',
      })
      .expect(201)
    const cases: [object, string][] = [
      [{}, 'title'],
      [{ title: '' }, 'title'],
      [{ title: 5 }, 'title'],
      [{ title: 'x', colour: 'red' }, 'colour'],
      [{ title: 'x', machine: { wheels: 2 } }, 'machine.wheels'],
      [{ title: 'x', machine: { cylinders: 0 } }, 'machine.cylinders'],
      [{ title: 'x', machine: { displacementCc: 1e9 } }, 'machine.displacementCc'],
      [{ title: 'x', fuel: { id: 'coal' } }, 'fuel.id'],
      [{ title: 'x', fuel: { id: 'custom' } }, 'fuel.stoichAfr'],
      [{ title: 'x', gaugeScale: -1 }, 'gaugeScale'],
    ]
    for (const [body, field] of cases) {
      const { body: problem } = await call()
        .post(api('/jobs'))
        .send(body)
        .expect(400)
        .expect('content-type', /problem\+json/)
      expect({ body, fields: (problem.errors as { field: string }[]).map((error) => error.field) }).toEqual({
        body,
        fields: expect.arrayContaining([field]),
      })
    }
    await call().post(api('/jobs')).set('content-type', 'application/json').send('{oops').expect(400)
  })
  it('are changed, archived, deleted; unknown ones are 404', async () => {
    const id = await newJob()
    expect(
      (
        await call()
          .patch(api(`/jobs/${id}`))
          .send({ archived: true, use: 'strip' })
          .expect(200)
      ).body,
    ).toMatchObject({ archived: true, use: 'strip', title: 'A job' })
    await call()
      .delete(api(`/jobs/${id}`))
      .expect(204)
    for (const path of [
      `/jobs/${id}`,
      `/jobs/${id}/runs`,
      `/jobs/${id}/tables/x`,
      '/nothing',
      `/jobs/${id}/runs/x/channels/rpm`,
    ]) {
      const { body } = await call().get(api(path)).expect(404)
      expect(JSON.stringify(body)).not.toContain(server.folder)
    }
  })
})

describe('logs', () => {
  it('become runs whose columns come back as they were', async () => {
    const job = await newJob()
    const run = (await upload(job, CSV, { name: 'First', kind: 'hold' }).expect(201)).body as RunInfo
    expect(run).toMatchObject({ name: 'First', kind: 'hold', samples: 60, warnings: [] })
    expect(run.channels.map((one) => one.channel)).toEqual(['time', 'rpm', 'throttle', 'lambda1'])
    const { body } = await call()
      .get(api(`/jobs/${job}/runs/${run.id}/channels/rpm`))
      .buffer(true)
      .parse((response, done) => {
        const parts: Buffer[] = []
        response.on('data', (part: Buffer) => parts.push(part))
        response.on('end', () => done(null, Buffer.concat(parts)))
      })
    expect((body as Buffer).readFloatLE(4 * 59)).toBe(3059)
  })
  it('cannot be read: says what, where and what to do, and stores nothing', async () => {
    const job = await newJob()
    const cases: [string, string | Buffer, RegExp][] = [
      ['an empty file', '', /empty/],
      ['a header only', 'time,rpm,throttle,lambda\n', /no rows/],
      ['no lambda', CSV.replace('lambda', 'foo'), /lambda or AFR/],
      ['a binary file', Buffer.from(Array.from({ length: 900 }, (_, i) => (i * 53) % 256)), /not a text file/],
      ['text for rpm', CSV.replace(/,3\d{3},/g, ',many,'), /first "many" on line 2/],
      ['no time', CSV.replace('time', 'note'), /sample rate/],
    ]
    for (const [name, content, message] of cases) {
      const { body } = await upload(job, content).expect(422)
      expect({ name, detail: body.detail as string }).toEqual({ name, detail: expect.stringMatching(message) })
      expect(body.errors.length).toBeGreaterThan(0)
    }
    await call()
      .post(api(`/jobs/${job}/runs`))
      .field('name', 'x')
      .expect(400)
    await upload(job, CSV, { mapping: '{' }).expect(400)
    await upload(job, CSV, { mapping: '{"rpm":{"channel":"rpm","unit":"rpm","x":1}}' }).expect(400)
    await upload(job, CSV, { colour: 'red' }).expect(400)
    await upload(job, CSV, { sampleRateHz: '-2' }).expect(400)
    expect((await call().get(api(`/jobs/${job}/runs`))).body).toEqual([])
    expect(await readdir(join(server.folder, 'incoming'))).toEqual([])
  })
  it('may come as UTF-16, Windows text, with a mapping or a stated rate', async () => {
    const job = await newJob()
    const utf16 = Buffer.from(`\uFEFF${CSV}`, 'utf16le')
    expect((await upload(job, utf16).expect(201)).body.samples).toBe(60)
    expect((await upload(job, Buffer.from(utf16).swap16(), { again: 'true' }).expect(201)).body.samples).toBe(60)
    expect(
      (await upload(job, CSV.replace('time', 'note'), { sampleRateHz: '20' }).expect(201)).body.duration,
    ).toBeCloseTo(2.95, 2)
    const odd = CSV.replace('time,rpm,throttle,lambda', 'a,b,c,d')
    await upload(job, odd).expect(422)
    const mapping = {
      a: { channel: 'time', unit: 's' },
      b: { channel: 'rpm', unit: 'rpm' },
      c: null,
      d: { channel: 'lambda1', unit: 'λ' },
    }
    await upload(job, odd, { mapping: JSON.stringify(mapping) }).expect(201)
    // The mapping is remembered for that header.
    expect((await upload(job, odd.replace('3000', '3005')).expect(201)).body.channels).toHaveLength(3)
    expect(Object.values((await call().get(api('/mappings'))).body)).toContainEqual(mapping)
  })
  it('the same file twice is asked about', async () => {
    const job = await newJob()
    await upload(job, CSV).expect(201)
    expect((await upload(job, CSV).expect(409)).body.detail).toMatch(/already in this job.*again=true/)
    await upload(job, CSV, { again: 'true' }).expect(201)
  })
  it('AFR is rescaled when the gauge turns out to be another, and a run can be taken out and put back', async () => {
    const job = await newJob({ title: 'AFR', gaugeScale: 14.7 })
    const afr = CSV.replace('lambda', 'AFR').replace(/,0\.9(\d)$/gm, ',13.$1')
    const run = (await upload(job, afr).expect(201)).body as RunInfo
    const max = (one: RunInfo): number => one.channels.find((channel) => channel.channel === 'lambda1')!.max
    expect(max(run)).toBeCloseTo(13.9 / 14.7, 4)
    const changed = (
      await call()
        .patch(api(`/jobs/${job}/runs/${run.id}`))
        .send({ gaugeScale: 14.1 })
        .expect(200)
    ).body as RunInfo
    expect(max(changed)).toBeCloseTo(13.9 / 14.1, 4)
    await call()
      .patch(api(`/jobs/${job}/runs/${run.id}`))
      .send({ removed: true })
      .expect(200)
    expect((await call().get(api(`/jobs/${job}/runs`))).body).toEqual([])
    await call()
      .patch(api(`/jobs/${job}/runs/${run.id}`))
      .send({ removed: false, kind: 'road' })
      .expect(200)
    expect((await call().get(api(`/jobs/${job}/runs`))).body).toHaveLength(1)
    await call()
      .patch(api(`/jobs/${job}/runs/${run.id}`))
      .send({ kind: 'flight' })
      .expect(400)
  })
})

describe('field and change', () => {
  it('over HTTP find the truth of a known case', async () => {
    const truth = (rpm: number, load: number): number => 0.11 + 0.06 * Math.sin(rpm / 1400) - 0.0004 * load
    const c = knownCase(77, { truth, target: GRID.load.map((load) => GRID.rpm.map(() => (load < 40 ? 0.95 : 0.885))) })
    const job = await newJob()
    for (const run of knownRuns(c)) await upload(job, asCsv(run), { name: run.id }).expect(201)
    const { body } = await call()
      .post(api(`/jobs/${job}/field`))
      .send({ rpm: c.grid.rpm, load: c.grid.load, target: c.target })
      .expect(200)
    const field = body as FieldAnswer
    expect(Math.abs(field.lagMs - 260)).toBeLessThan(60)
    const errors = c.grid.load.flatMap((load, row) =>
      c.grid.rpm.flatMap((rpm, k) => {
        const { changePct, held } = field.cylinders[0]!
        const value = changePct[row]![k]
        return value === null ||
          value === undefined ||
          held[row]![k] ||
          !c.stops.includes(load) ||
          rpm < 1900 ||
          rpm > 9800
          ? []
          : [value - 100 * (Math.exp(truth(rpm, load)) - 1)]
      }),
    )
    expect(Math.sqrt(errors.reduce((sum, e) => sum + e * e, 0) / errors.length)).toBeLessThan(0.5)
    const names = new Map(
      ((await call().get(api(`/jobs/${job}/runs`))).body as RunInfo[]).map((run) => [run.id, run.name]),
    )
    expect(field.runs.filter((run) => run.odd).map((run) => names.get(run.id))).toEqual(['stop 60 repeat 2'])

    const table = (
      await call()
        .post(api(`/jobs/${job}/tables`))
        .send({
          name: 'Trim',
          table: {
            ...TABLE,
            rpm: c.grid.rpm,
            load: c.grid.load,
            values: c.grid.load.map(() => c.grid.rpm.map(() => 0)),
          },
        })
        .expect(201)
    ).body as TableInfo
    const change = (
      await call()
        .post(api(`/jobs/${job}/change`))
        .send({ table: table.id, target: c.target, limits: { richest: 5 } })
        .expect(200)
    ).body
    expect(Math.max(...change.values.flat())).toBeCloseTo(5, 9)
    expect(change.nodes.flat().some((node: { reason: string }) => node.reason === 'held by closed loop')).toBe(true)
    await call()
      .post(api(`/jobs/${job}/change`))
      .send({ table: 'none' })
      .expect(404)
  }, 60_000)
  it('refuse what makes no sense, by field', async () => {
    const job = await newJob()
    expect(
      (
        await call()
          .post(api(`/jobs/${job}/field`))
          .send({})
          .expect(422)
      ).body.detail,
    ).toMatch(/no runs/)
    await upload(job, CSV)
    const cases: [object, string][] = [
      [{ rpm: [2000] }, 'rpm'],
      [{ rpm: [2000, 1000] }, 'rpm'],
      [{ load: [0, 'x'] }, 'load[1]'],
      [{ target: 9 }, 'target'],
      [{ target: [[0.9]] }, 'target'],
      [{ target: { preset: 'none', zones: [] } }, 'target.preset'],
      [{ lagMs: -5 }, 'lagMs'],
      [{ method: 'guess' }, 'method'],
      [{ runs: ['nope'] }, 'runs'],
      [{ options: { magic: 1 } }, 'options.magic'],
      [{ options: { filters: { settle: 99 } } }, 'options.filters.settle'],
    ]
    for (const [body, field] of cases) {
      const { body: problem } = await call()
        .post(api(`/jobs/${job}/field`))
        .send(body)
        .expect(400)
      expect({ body, fields: (problem.errors as { field: string }[]).map((error) => error.field) }).toEqual({
        body,
        fields: expect.arrayContaining([field]),
      })
    }
  })
})

describe('tables', () => {
  it('keep every revision, refuse a stale one and never change an old one', async () => {
    const job = await newJob()
    const table = (
      await call()
        .post(api(`/jobs/${job}/tables`))
        .send({ name: 'Trim', table: TABLE })
        .expect(201)
    ).body as TableInfo
    const path = api(`/jobs/${job}/tables/${table.id}`)
    const values = [
      [9, 1, 2],
      [3, 4, 5],
    ]
    await call().post(`${path}/revisions`).send({ values, parent: 1, reason: 'First pass', runs: [] }).expect(201)
    expect(
      (await call().post(`${path}/revisions`).send({ values, parent: 1, reason: 'Late' }).expect(409)).body.latest,
    ).toBe(2)
    expect((await call().get(`${path}/revisions/1`)).body.table).toEqual(TABLE)
    expect((await call().get(`${path}/revisions/2`)).body).toMatchObject({
      n: 2,
      parent: 1,
      reason: 'First pass',
      table: { values },
    })
    for (const bad of [
      { values: [[1]], parent: 2, reason: 'x' },
      {
        values: [
          [1, 2, 999],
          [3, 4, 5],
        ],
        parent: 2,
        reason: 'x',
      },
    ])
      await call().post(`${path}/revisions`).send(bad).expect(422)
    await call().post(`${path}/revisions`).send({ values, parent: 2 }).expect(400)
    await expect(server.store.sequelize.query(`UPDATE revisions SET reason = 'x'`)).rejects.toThrow()
  })
  it('go out as CSV, JSON and XLSX and come back equal', async () => {
    const job = await newJob()
    const table = (
      await call()
        .post(api(`/jobs/${job}/tables`))
        .send({
          name: 'A/B: trim',
          table: {
            ...TABLE,
            values: [
              [0.125, -1, 2.5],
              [3, 4.75, 5],
            ],
          },
        })
        .expect(201)
    ).body as TableInfo
    for (const format of ['csv', 'json', 'xlsx']) {
      const { body } = await call()
        .get(api(`/jobs/${job}/tables/${table.id}/revisions/1.${format}`))
        .expect(200)
        .expect('content-disposition', /attachment/)
        .buffer(true)
        .parse((response, done) => {
          const parts: Buffer[] = []
          response.on('data', (part: Buffer) => parts.push(part))
          response.on('end', () => done(null, Buffer.concat(parts)))
        })
      if (format === 'json') {
        const check = new AjvDraft7().compile(
          JSON.parse(readFileSync(join(root, 'docs/table.schema.json'), 'utf8')) as object,
        )
        check(JSON.parse((body as Buffer).toString()))
        expect(check.errors).toBeNull()
      }
      const back = await call()
        .post(api('/tables/read'))
        .attach('file', body as Buffer, `t.${format}`)
        .expect(200)
      expect({ format, table: back.body }).toEqual({ format, table: table.table })
    }
    await call()
      .get(api(`/jobs/${job}/tables/${table.id}/revisions/1.pdf`))
      .expect(404)
    for (const bad of ['', 'kind,fuel trim\nload,1\n', 'PK\u0003\u0004 no workbook', '\u0000\u0001', '{"format":"x"}'])
      await call().post(api('/tables/read')).attach('file', Buffer.from(bad), 'x').expect(422)
  })
})

describe('archives', () => {
  it('carry a whole job there and back', async () => {
    const job = await newJob({ title: 'To be moved', machine: { cylinders: 2 }, fuel: { id: 'e85' } })
    const run = (await upload(job, CSV.replace(',3004,', ',,')).expect(201)).body as RunInfo
    const table = (
      await call()
        .post(api(`/jobs/${job}/tables`))
        .send({ name: 'Trim', table: TABLE })
    ).body as TableInfo
    await call()
      .post(api(`/jobs/${job}/tables/${table.id}/revisions`))
      .send({
        values: [
          [1, 1, 1],
          [1, 1, 1],
        ],
        parent: 1,
        reason: 'All one',
        runs: [run.id],
      })
      .expect(201)
    const zip = (
      await call()
        .get(api(`/jobs/${job}/archive`))
        .buffer(true)
        .parse((response, done) => {
          const parts: Buffer[] = []
          response.on('data', (part: Buffer) => parts.push(part))
          response.on('end', () => done(null, Buffer.concat(parts)))
        })
    ).body as Buffer
    const files = unzipSync(zip)
    const check = new AjvDraft7({ strict: false }).compile(
      JSON.parse(readFileSync(join(root, 'docs/job.schema.json'), 'utf8')) as object,
    )
    check(JSON.parse(strFromU8(files['job.json']!)))
    expect(check.errors).toBeNull()
    expect(strFromU8(files['runs/001.csv']!).split('\n')[5]).toBe('0.08,,30,0.94')

    const copy = (await call().post(api('/archives')).attach('file', zip, 'job.zip').expect(201)).body as {
      id: string
      title: string
    }
    expect(copy).toMatchObject({ title: 'To be moved', fuel: { id: 'e85' }, runCount: 1, tableCount: 1 })
    const [runs, tables] = await Promise.all([
      call().get(api(`/jobs/${copy.id}/runs`)),
      call().get(api(`/jobs/${copy.id}/tables`)),
    ])
    const copied = (runs.body as RunInfo[])[0]!
    expect(copied).toMatchObject({ samples: run.samples, channels: run.channels, kind: run.kind })
    expect((tables.body as TableInfo[])[0]!.revisions[1]).toMatchObject({ reason: 'All one', runs: [copied.id] })
    const [before, after] = await Promise.all(
      [run, copied].map((one, k) =>
        server.store.models.channels
          .findOne({ where: { runId: one.id, channel: 'lambda1' } })
          .then((row) => [k, row!.get().data] as const),
      ),
    )
    expect(Buffer.compare(before![1], after![1])).toBe(0)
  })
  it('that are none, damaged or incomplete are refused and nothing is stored', async () => {
    const count = async (): Promise<number> => ((await call().get(api('/jobs'))).body as unknown[]).length
    const before = await count()
    const job = { format: 'yuzumix-job/1', job: { title: 'x' }, runs: [], tables: [], entries: [] }
    const zipped = (content: unknown, name = 'job.json'): Buffer =>
      Buffer.from(zipSync({ [name]: strToU8(typeof content === 'string' ? content : JSON.stringify(content)) }))
    const run = {
      name: 'r',
      kind: 'sweep',
      samples: 3,
      channels: [{ channel: 'rpm', unit: 'rpm', count: 1, min: 0, max: 1 }],
      file: 'runs/1.csv',
    }
    for (const content of [
      Buffer.from('no zip'),
      zipped(job, 'other.json'),
      zipped('{'),
      zipped({ ...job, format: 'else' }),
      zipped({ ...job, job: { title: '' } }),
      zipped({ ...job, runs: [run] }),
      Buffer.from(
        zipSync({ 'job.json': strToU8(JSON.stringify({ ...job, runs: [run] })), 'runs/1.csv': strToU8('rpm\n1\n2\n') }),
      ),
      Buffer.from(
        zipSync({
          'job.json': strToU8(JSON.stringify({ ...job, runs: [{ ...run, samples: 2 }] })),
          'runs/1.csv': strToU8('rpm\n1\nx\n'),
        }),
      ),
      zipped({ ...job, tables: [{ name: 't', cylinder: null, table: TABLE, revisions: [] }] }),
    ]) {
      await call().post(api('/archives')).attach('file', content, 'x.zip').expect(422)
    }
    expect(await count()).toBe(before)
    await call().post(api('/archives')).attach('file', zipped(job), 'x.zip').expect(201)
  })
})

describe('safety', () => {
  it('everything confirmed is there after a restart', async () => {
    const job = await newJob({ title: 'Stays' })
    await upload(job, CSV).expect(201)
    const table = (
      await call()
        .post(api(`/jobs/${job}/tables`))
        .send({ name: 'Trim', table: TABLE })
    ).body as TableInfo
    const state = async () =>
      Promise.all(
        ['', '/runs', '/tables', '/entries'].map(
          async (path) => (await call().get(api(`/jobs/${job}${path}`))).body as unknown,
        ),
      )
    const before = await state()
    await server.restart()
    expect(await state()).toEqual(before)
    expect(table.revisions).toHaveLength(1)
  })
  it('other hosts and origins are refused, and a strict policy is sent', async () => {
    await call().get(api('/health')).set('host', 'evil.example').expect(403)
    await call().post(api('/jobs')).set('origin', 'http://evil.example').send({ title: 'x' }).expect(403)
    const { headers } = await call().get(api('/health')).expect(200)
    expect(headers['content-security-policy']).toMatch(/default-src 'self'/)
    expect(headers['x-powered-by']).toBeUndefined()
  })
  it('two acts at once do not meet', async () => {
    const made = await Promise.all(Array.from({ length: 12 }, (_, k) => newJob({ title: `Job ${k}` })))
    expect(new Set(made).size).toBe(12)
  })
})
