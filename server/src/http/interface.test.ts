import { api, asBytes, CSV, TABLE, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const send = (method: 'get' | 'post' | 'patch' | 'delete', path: string) => server.call()[method](api(path))

describe('what a script asks of the interface', () => {
  it('a change of what was changed meanwhile is refused, by its tag', async () => {
    const job = await server.newJob()
    const read = await send('get', `/jobs/${job}`).expect(200)
    const tag = read.headers['etag'] as string
    await send('get', `/jobs/${job}`).set('If-None-Match', tag).expect(304)
    await send('patch', `/jobs/${job}`).set('If-Match', tag).send({ title: 'Mine' }).expect(200)
    const late = await send('patch', `/jobs/${job}`).set('If-Match', tag).send({ title: 'Too late' }).expect(412)
    expect(late.body).toMatchObject({ type: '/problems/changed-meanwhile', status: 412 })
    expect((await send('get', `/jobs/${job}`)).body.title).toBe('Mine')
    await send('patch', `/jobs/${job}`).set('If-Match', '*').send({ title: 'Any' }).expect(200)
  })
  it('what is asked again with its key is made once, and answered alike', async () => {
    const make = (key: string, title: string) => send('post', '/jobs').set('Idempotency-Key', key).send({ title })
    const first = await make('k1', 'Once').expect(201)
    const again = await make('k1', 'Once').expect(201)
    expect([again.body.id, again.headers['location']]).toEqual([first.body.id, first.headers['location']])
    await make('k1', 'Another').expect(422)
    const refused = await send('post', '/jobs').set('Idempotency-Key', 'k2').send({ titel: 'x' }).expect(400)
    expect(refused.body.type).toBe('/problems/input-refused')
    // What was refused may be tried again.
    await make('k2', 'Now right').expect(201)
    const jobs = (await send('get', '/jobs')).body as { title: string }[]
    expect(jobs.filter((one) => one.title === 'Once')).toHaveLength(1)
  })
  it('two refusals of one status differ by their type', async () => {
    const job = await server.newJob()
    await server.upload(job, CSV).expect(201)
    const same = await server.upload(job, CSV).expect(409)
    const { body: table } = await send('post', `/jobs/${job}/tables`).send({ name: 'T', table: TABLE }).expect(201)
    const stale = { values: TABLE.values, parent: 7, reason: 'r' }
    const late = await send('post', `/jobs/${job}/tables/${table.id}/revisions`).send(stale).expect(409)
    expect([same.body.type, late.body.type]).toEqual(['/problems/same-file', '/problems/stale-revision'])
    expect(late.body.latest).toBe(1)
  })
  it('what is no value of its kind is told in plain words', async () => {
    const job = await server.newJob()
    const said = async (body: object) => (await send('patch', `/jobs/${job}`).send(body).expect(400)).body.errors
    expect(await said([])).toEqual([{ field: 'body', message: 'must be an object' }])
    expect(await said({ limits: { revCeiling: 'high' } })).toEqual([
      { field: 'limits.revCeiling', message: 'must be a number' },
    ])
    expect(await said({ changed: 'exhaust' })).toEqual([{ field: 'changed', message: 'must be a list' }])
  })
  it('tells channels with their units, and what is asked about where', async () => {
    const channels = (await send('get', '/channels').expect(200)).body as { channel: string; units: string[] }[]
    expect(channels.find((one) => one.channel === 'coolant')).toMatchObject({
      unit: '°C',
      units: expect.arrayContaining(['°f', 'k']) as string[],
    })
    const rules = (await send('get', '/rules').expect(200)).body
    expect(rules.steps.fuel).toEqual({ least: -4, most: 25, unit: '%' })
    expect(rules.gates).toContainEqual(
      expect.objectContaining({ call: 'addRevision', changesMachine: true, asksAbout: expect.any(Array) as unknown }),
    )
  })
  it('a mapping is forgotten, a table taken out is listed, a report is read again', async () => {
    const job = await server.newJob()
    const mapping = JSON.stringify({
      time: { channel: 'time', unit: 's' },
      rpm: { channel: 'rpm', unit: 'rpm' },
      throttle: { channel: 'throttle', unit: '%' },
      lambda: { channel: 'lambda1', unit: 'λ' },
    })
    await server.upload(job, CSV, { mapping }).expect(201)
    const mappings = Object.keys((await send('get', '/mappings')).body as object)
    expect(mappings.length).toBeGreaterThan(0)
    await send('delete', `/mappings/${encodeURIComponent(mappings[0]!)}`).expect(204)
    expect(Object.keys((await send('get', '/mappings')).body as object)).not.toContain(mappings[0])
    await send('delete', '/mappings/never-chosen').expect(404)

    const { body: table } = await send('post', `/jobs/${job}/tables`).send({ name: 'T', table: TABLE }).expect(201)
    await send('patch', `/jobs/${job}/tables/${table.id}`).send({ removed: true }).expect(200)
    const out = (await send('get', `/jobs/${job}/tables-taken-out`).expect(200)).body as { id: string }[]
    expect(out.map((one) => one.id)).toEqual([table.id])

    await send('post', `/jobs/${job}/reports`).send({}).expect(201)
    const report = (await send('get', `/jobs/${job}/reports/1`).expect(200)).body as { n: number; job: string }
    expect([report.n, report.job]).toEqual([1, job])
    await send('get', `/jobs/${job}/reports/2`).expect(404)
    await send('get', `/jobs/${job}/reports/first`).expect(404)
  })
  it('long answers are packed, an archive tells its length, columns theirs', async () => {
    const job = await server.newJob()
    const { body: run } = await server.upload(job, CSV).expect(201)
    const list = await send('get', '/channels').set('Accept-Encoding', 'gzip').expect(200)
    expect(list.headers['content-encoding']).toBe('gzip')
    const archive = await send('get', `/jobs/${job}/archive`).buffer().parse(asBytes).expect(200)
    expect(Number(archive.headers['content-length'])).toBe((archive.body as Buffer).length)
    const asked = { runs: [{ run: run.id as string, channels: ['rpm', 'time'] }] }
    const columns = await send('post', `/jobs/${job}/columns`).send(asked).buffer().parse(asBytes).expect(200)
    expect(columns.headers['x-values']).toBe('120')
    expect((columns.body as Buffer).length).toBe(480)
  })
})
