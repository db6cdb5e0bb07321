import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const call = () => server.call()
const newJob: TestServer['newJob'] = (...args) => server.newJob(...args)

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
  it('the logbook says what was changed in words of the trade', async () => {
    const id = await newJob()
    await call()
      .patch(api(`/jobs/${id}`))
      .send({ fuelSold: { ethanolPct: 5 }, changed: [], use: 'strip' })
      .expect(200)
    const { body } = await call().get(api(`/jobs/${id}/entries`))
    expect(body[0]).toMatchObject({
      text: 'fuel as sold here, what was changed on exhaust and intake, use',
    })
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
