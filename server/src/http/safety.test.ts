import type { TableInfo } from '@yuzumix/core'
import { api, CSV, TABLE, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const call = () => server.call()
const newJob: TestServer['newJob'] = (...args) => server.newJob(...args)
const upload: TestServer['upload'] = (...args) => server.upload(...args)

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
    // A sandboxed page has no origin to name.
    await call().post(api('/jobs')).set('origin', 'null').send({ title: 'x' }).expect(403)
    await call().post(api('/jobs/import')).set('origin', 'null').expect(403)
    const { headers } = await call().get(api('/health')).expect(200)
    expect(headers['referrer-policy']).toBe('same-origin')
    expect(headers['content-security-policy']).toMatch(/default-src 'self'/)
    expect(headers['x-powered-by']).toBeUndefined()
  })
  it('two acts at once do not meet', async () => {
    const made = await Promise.all(Array.from({ length: 12 }, (_, k) => newJob({ title: `Job ${k}` })))
    expect(new Set(made).size).toBe(12)
  })
})
