import { ALL_CALLS } from '@yuzumix/core'
import { api, CSV, testServer, type TestServer } from '../testServer'

let server: TestServer
let job: string
beforeAll(async () => {
  server = await testServer()
  job = await server.newJob()
})
afterAll(() => server.stop())

/** An address of a call, with something in the place of each name. */
const addressOf = (path: string): string => api(path.replace('{job}', job).replace(/\{\w+\}/g, 'x'))
const WITH_BODY = ALL_CALLS.filter((one) => one.body)

describe('a request is held against the list of calls', () => {
  it.each(WITH_BODY.map((one) => [`${one.method} ${one.path}`, one] as const))(
    '%s takes JSON and nothing else',
    async (_name, { method, path }) => {
      const { status, body } = await server
        .call()
        [method](addressOf(path))
        .set('Content-Type', 'text/plain')
        .send('title=A')
      expect([status, body.title]).toEqual([415, 'JSON is wanted'])
      expect(body.detail).toMatch(/application\/json/)
    },
  )
  it('a body that nobody would read is refused; an empty object says nothing', async () => {
    const reopen = api(`/jobs/${job}/reopen`)
    const { body } = await server.call().post(reopen).send({ reason: 'on purpose' }).expect(400)
    expect(body).toMatchObject({ type: '/problems/no-body-wanted', detail: expect.stringMatching(/takes no body/) })
    await server.call().post(reopen).send({}).expect(409)
  })
  it('a file is sent as a form', async () => {
    const { body } = await server
      .call()
      .post(api(`/jobs/${job}/runs`))
      .set('Content-Type', 'text/csv')
      .send(CSV)
      .expect(415)
    expect(body.detail).toMatch(/multipart\/form-data/)
  })
  it('a method that an address does not have is refused with those it has', async () => {
    const { body, headers } = await server
      .call()
      .put(api(`/jobs/${job}`))
      .send({})
      .expect(405)
    expect(headers['allow']!.split(', ').sort()).toEqual(['DELETE', 'GET', 'PATCH'])
    expect(body.detail).toMatch(/GET/)
    await server.call().delete(api('/jobs')).expect(405)
    await server
      .call()
      .head(api(`/jobs/${job}`))
      .expect(200)
    // What is no address at all is told as before.
    await server.call().put(api('/nowhere')).send({}).expect(404)
  })
  it('names in the query that a call does not have are refused, as unknown members are', async () => {
    const { body } = await server
      .call()
      .get(api(`/jobs/${job}/report.html?power=hp&pwoer=kW`))
      .expect(400)
    expect(body.errors).toEqual([{ field: 'pwoer', message: expect.stringMatching(/this call takes .*power/) }])
    const none = await server.call().get(api('/jobs?page=2')).expect(400)
    expect(none.body.errors[0].message).toMatch(/takes none/)
  })
  it('a place is taken for the call that names most of it', async () => {
    // Not for a table that is called "histories".
    await server
      .call()
      .get(api(`/jobs/${job}/tables/histories?since=2026-01-01T00:00:00Z`))
      .expect(200)
  })
})
