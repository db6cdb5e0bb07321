import { once } from 'node:events'
import { readdir } from 'node:fs/promises'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import { setTimeout as delay } from 'node:timers/promises'
import type { FieldAnswer, RunInfo } from '@yuzumix/core'
import { api, asBytes, CSV, TABLE, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const call = () => server.call()
const newJob: TestServer['newJob'] = (...args) => server.newJob(...args)
const upload: TestServer['upload'] = (...args) => server.upload(...args)

describe('logs', () => {
  it('become runs whose columns come back as they were', async () => {
    const job = await newJob()
    const run = (await upload(job, CSV, { name: 'First', kind: 'hold' }).expect(201)).body as RunInfo
    expect(run).toMatchObject({ name: 'First', kind: 'hold', samples: 60, warnings: [] })
    expect(run.channels.map((one) => one.channel)).toEqual(['time', 'rpm', 'throttle', 'lambda1'])
    const { body } = await call()
      .get(api(`/jobs/${job}/runs/${run.id}/channels/rpm`))
      .buffer(true)
      .parse(asBytes)
    expect((body as Buffer).readFloatLE(4 * 59)).toBe(3059)
  })
  it('give several columns in one answer, in the order asked for', async () => {
    const job = await newJob()
    const { id } = (await upload(job, CSV)).body as RunInfo
    const get = (channels: string, of = job) =>
      call()
        .get(api(`/jobs/${of}/runs/${id}/columns?channels=${channels}`))
        .buffer(true)
        .parse(asBytes)
    const both = (await get('rpm,time').expect(200)).body as Buffer
    expect([both.length, both.readFloatLE(4 * 59), both.readFloatLE(4 * 60)]).toEqual([4 * 120, 3059, 0])
    await get('rpm,torque').expect(404)
    await get('').expect(400)
    await get('rpm', await newJob()).expect(404)
  })
  it('of several runs come in one answer, each with its own columns, also of a job that was handed over', async () => {
    const job = await newJob()
    const [a, b] = [
      (await upload(job, CSV)).body as RunInfo,
      (await upload(job, CSV.replaceAll(',3', ',4'), { again: 'true' })).body as RunInfo,
    ]
    const ask = (runs: unknown, of = job) =>
      call()
        .post(api(`/jobs/${of}/columns`))
        .send({ runs })
    const both = [
      { run: b.id, channels: ['rpm'] },
      { run: a.id, channels: ['time', 'rpm'] },
    ]
    const { body } = await ask(both).buffer(true).parse(asBytes).expect(200)
    const floats = body as Buffer
    expect(floats).toHaveLength(4 * 180)
    expect([59, 60, 179].map((k) => floats.readFloatLE(4 * k))).toEqual([4059, 0, 3059])
    await ask([
      { run: a.id, channels: ['rpm'] },
      { run: b.id, channels: ['torque'] },
    ]).expect(404)
    for (const twice of [[...both, both[0]], [{ run: a.id, channels: ['rpm', 'rpm'] }]])
      expect((await ask(twice).expect(400)).body.errors[0].message).toMatch(/twice/)
    await ask(both, await newJob()).expect(404)
    await call()
      .post(api(`/jobs/${job}/done`))
      .expect(200)
    await ask(both).expect(200)
    for (const wrong of [[], [{ run: a.id, channels: [] }], [{ run: a.id }], 'all']) await ask(wrong).expect(400)
    await ask([{ run: a.id, channels: Array.from({ length: 61 }, () => 'rpm') }]).expect(400)
  })
  it('cannot be read: says what, where and what to do, and stores nothing', async () => {
    const job = await newJob()
    const cases: [string, string | Buffer, RegExp][] = [
      ['an empty file', '', /empty/],
      ['a header only', 'time,rpm,throttle,lambda\n', /no rows/],
      ['no lambda', CSV.replace('lambda', 'oil level'), /lambda or AFR/],
      ['a binary file', Buffer.from(Array.from({ length: 900 }, (_, i) => (i * 53) % 256)), /not a text file/],
      ['text for rpm', CSV.replace(/,3\d{3},/g, ',many,'), /first "many" on line 2/],
      ['no time', CSV.replace('time', 'fuel level'), /sample rate/],
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
  it('may have channels that take turns: said so, kept as they came, and the field is that of the same readings in full rows', async () => {
    const rows = Array.from(
      { length: 900 },
      (_, i) => [i / 25, 2500 + 5 * i, 40, (0.92 + 0.00004 * i).toFixed(4)] as const,
    )
    const full = rows.map((row) => row.join(',')).join('\n')
    const inTurns = rows
      .map(
        ([t, rpm, plate, lambda]) =>
          `${t},${rpm},,\n${(t + 0.001).toFixed(3)},,${plate},\n${(t + 0.002).toFixed(3)},,,${lambda}`,
      )
      .join('\n')
    const fields = await Promise.all(
      [full, inTurns].map(async (text) => {
        const job = await newJob()
        const run = (await upload(job, `time,rpm,throttle,lambda\n${text}\n`).expect(201)).body as RunInfo
        await call()
          .post(api(`/jobs/${job}/tables`))
          .send({ name: 'Fuel', table: TABLE })
          .expect(201)
        const { body } = await call()
          .post(api(`/jobs/${job}/field`))
          .send({ lagMs: 200 })
          .expect(200)
        return { run, change: (body as FieldAnswer).cylinders[0]!.changePct }
      }),
    )
    const [whole, turned] = fields as [(typeof fields)[number], (typeof fields)[number]]
    expect([whole.run.warnings, turned.run.samples]).toEqual([[], 2700])
    expect(turned.run.warnings.join()).toContain('take turns')
    expect(turned.run.facts).toMatchObject({ stop: 40, settled: expect.any(Number) as number })
    const numbers = whole.change.flat().filter((value) => value !== null)
    expect(numbers.length).toBeGreaterThan(1)
    whole.change.forEach((cells, row) =>
      cells.forEach((value, k) => {
        if (value === null) expect(turned.change[row]![k]).toBeNull()
        else expect(turned.change[row]![k]).toBeCloseTo(value, 1)
      }),
    )
  })
  it('the same file twice is asked about', async () => {
    const job = await newJob()
    await upload(job, CSV).expect(201)
    expect((await upload(job, CSV).expect(409)).body.detail).toMatch(/already in this job.*not added a second time/)
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
    const out = (
      await call()
        .get(api(`/jobs/${job}/taken-out`))
        .expect(200)
    ).body as RunInfo[]
    expect(out.map((one) => one.id)).toEqual([run.id])
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

  it.each<[string, () => Promise<boolean>]>([
    ['while it is being sent', async () => (await readdir(join(server.folder, 'incoming'))).length > 0],
    ['while it is being read', async () => (await call().get(api('/imports/cut'))).body.share > 0.1],
  ])(
    'given up %s stores nothing, frees the thread and leaves no file behind',
    async (_when, begun) => {
      const job = await newJob()
      const listening = server.app.listen(0, '127.0.0.1')
      try {
        await once(listening, 'listening')
        const { port } = listening.address() as AddressInfo
        const lines = Array.from({ length: 900_000 }, (_, i) => `${i / 100},${2000 + (i % 6000)},30,0.9`)
        const form = new FormData()
        form.set('file', new Blob([`time,rpm,throttle,lambda\n${lines.join('\n')}\n`]), 'long.csv')
        const client = new AbortController()
        const sending = fetch(`http://127.0.0.1:${port}${api(`/jobs/${job}/runs`)}`, {
          method: 'POST',
          body: form,
          headers: { 'x-import-id': 'cut' },
          signal: client.signal,
        }).catch((error: Error) => error.name)
        while (!(await begun())) await delay(5)
        client.abort()
        expect(await sending).toBe('AbortError')
        const gone = async (): Promise<boolean> =>
          (await readdir(join(server.folder, 'incoming'))).length === 0 &&
          (await call().get(api('/imports/cut'))).body.share === null
        // Several times in a row, because the file of a request given up at once may still be on its way.
        let quiet = 0
        for (let tries = 0; tries < 100 && quiet < 4; tries += 1) {
          await delay(50)
          quiet = (await gone()) ? quiet + 1 : 0
        }
        expect(quiet).toBe(4)
        expect((await call().get(api(`/jobs/${job}/runs`))).body).toEqual([])
        await upload(job, CSV).expect(201)
      } finally {
        listening.closeAllConnections()
        listening.close()
      }
    },
    30_000,
  )
})
