import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import Ajv from 'ajv/dist/2020'
import { unzipSync, strFromU8, zipSync, strToU8 } from 'fflate'
import type { RunInfo, TableInfo } from '@yuzumix/core'
import { api, asBytes, CSV, TABLE, root, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const call = () => server.call()
const newJob: TestServer['newJob'] = (...args) => server.newJob(...args)
const upload: TestServer['upload'] = (...args) => server.upload(...args)

describe('archives', () => {
  it('a form that is broken off is refused in words, and stores nothing', async () => {
    for (const [type, body] of [
      ['multipart/form-data; boundary=x', '--x\r\nContent-Disposition: form-data; name="file"; filename="a"\r\n\r\nPK'],
      ['multipart/form-data; boundary=x', '--x\r\nnonsense'],
      ['multipart/form-data', 'PK'],
    ] as const) {
      const answer = await call().post(api('/archives')).set('Content-Type', type).send(body).expect(400)
      expect(answer.body).toMatchObject({
        title: 'Upload refused',
        detail: expect.stringMatching(/^The form is broken or was cut off/),
      })
    }
  })
  it('carry a whole job there and back', async () => {
    const job = await newJob({ title: 'To be moved', machine: { cylinders: 2 }, fuel: { id: 'e85' } })
    const run = (await upload(job, CSV.replace(',3004,', ',,')).expect(201)).body as RunInfo
    const { id: second } = (
      await call()
        .post(api(`/jobs/${job}/sets`))
        .send({ name: 'Baffle out', gear: 4, weather: { temperatureC: 20, pressureKpa: 100, humidityPct: 40 } })
    ).body as { id: string }
    const leftOut = { fromRpm: 3000, toRpm: 3020, reason: 'Belt slipped' }
    await call()
      .patch(api(`/jobs/${job}/runs/${run.id}`))
      .send({ set: second, leftOut })
      .expect(200)
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
        override: 'To be told of in the archive',
        runs: [run.id],
      })
      .expect(201)
    const zip = (
      await call()
        .get(api(`/jobs/${job}/archive`))
        .buffer(true)
        .parse(asBytes)
    ).body as Buffer
    const files = unzipSync(zip)
    const check = new Ajv({ strict: false }).compile(
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
    expect(copied).toMatchObject({ leftOut, facts: run.facts })
    const sets = (await call().get(api(`/jobs/${copy.id}/sets`))).body as { id: string; name: string }[]
    expect(sets).toMatchObject([{ name: 'Baseline' }, { name: 'Baffle out', gear: 4, weather: { temperatureC: 20 } }])
    expect(copied.set).toBe(sets[1]!.id)
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
    const job = { format: 'yuzumix-job/1', job: { title: 'x' }, sets: [], runs: [], tables: [], entries: [] }
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
  it('that break their own schema are refused whole, with the path of what is wrong', async () => {
    const at = '2026-03-02T10:00:00.000Z'
    const revision = { n: 1, parent: null, reason: 'x', override: null, runs: [], cells: TABLE.values, createdAt: at }
    const table = { name: 't', cylinder: null, table: TABLE, revisions: [revision] }
    const run = {
      name: 'r',
      kind: 'sweep',
      duration: 1,
      warnings: [],
      gaugeScale: null,
      digest: 'x',
      samples: 1,
      set: 0,
      leftOut: null,
      channels: [{ channel: 'rpm', unit: 'rpm', count: 1, min: 3000, max: 3000 }],
      file: 'runs/1.csv',
    }
    const pin = { id: 'p', at, word: 'hot' }
    const good = {
      format: 'yuzumix-job/1',
      job: { title: 'x' },
      sets: [{ name: 'Baseline' }],
      runs: [run],
      tables: [table],
      entries: [{ at, act: 'note', text: 'x' }],
    }
    const send = (job: unknown) =>
      call()
        .post(api('/archives'))
        .attach(
          'file',
          Buffer.from(
            zipSync({ 'job.json': strToU8(JSON.stringify(job)), 'runs/1.csv': strToU8('rpm (rpm)\n3000\n') }),
          ),
          'x.zip',
        )
    const before = ((await call().get(api('/jobs'))).body as unknown[]).length
    for (const [over, field] of [
      [{ extra: 1 }, 'extra'],
      [{ job: { title: 'x', machine: { cylinders: '2' } } }, 'job.machine.cylinders'],
      [{ sets: [{ name: 'Baseline', wheels: 2 }] }, 'sets[0].wheels'],
      [{ runs: [{ ...run, samples: '1' }] }, 'runs[0].samples'],
      [{ runs: [{ ...run, set: 3 }] }, 'runs[0].set'],
      [{ runs: [{ ...run, channels: [{ ...run.channels[0], min: 'low' }] }] }, 'runs[0].channels[0].min'],
      [{ runs: [{ ...run, revisions: { 0: 'two' } }] }, 'runs[0].revisions'],
      [{ tables: [{ ...table, revisions: [{ ...revision, n: 2 }] }] }, 'tables[0].revisions[0].n'],
      [{ tables: [{ ...table, revisions: [revision, revision] }] }, 'tables[0].revisions[1].n'],
      [{ tables: [{ ...table, revisions: [{ ...revision, cells: [['a']] }] }] }, 'tables[0].revisions[0].cells[0][0]'],
      [{ tables: [{ ...table, revisions: [{ ...revision, parent: 4 }] }] }, 'tables[0].revisions[0].parent'],
      [{ entries: [{ at, act: 'note', text: 5 }] }, 'entries[0].text'],
      [{ entries: [{ at: 'yesterday', act: 'note', text: 'x' }] }, 'entries[0].at'],
      [
        { entries: [{ at, act: 'note', text: 'x', photo: { type: 'image/heic', file: 'p' } }] },
        'entries[0].photo.type',
      ],
      [{ entries: [{ at, act: 'note', text: 'x', photo: { type: 'image/png', file: 'photos/p' } }] }, 'entries'],
      [{ complaints: [pin, pin] }, 'complaints'],
      [{ complaints: [{ ...pin, word: 'wobbles' }] }, 'complaints[0].word'],
      [{ putBack: [{ id: 'p', at, what: 'Fan' }] }, 'putBack[0].automatic'],
    ] as const) {
      const { body } = await send({ ...good, ...over }).expect(422)
      expect([field, body.errors[0].field]).toEqual([field, field])
    }
    for (const none of [null, [], 'job', 5]) await send(none).expect(422)
    expect((await call().get(api('/jobs'))).body).toHaveLength(before)
    await send(good).expect(201)
  })
})
