import { api, TABLE, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

const MACHINE = { name: 'Curlew 437', cylinders: 1, displacementCc: 437, strokes: 4 }
const newJob = (more: object = {}): Promise<string> =>
  server.newJob({ title: 'Short silencer', machine: MACHINE, ...more })

describe('handing over', () => {
  const done = (job: string) => server.call().post(api(`/jobs/${job}/done`))
  it('is refused until the ledger is empty and complaints are answered; it saves the report, and then nothing is written', async () => {
    const job = await newJob()
    const line = (
      await server
        .call()
        .post(api(`/jobs/${job}/put-back`))
        .send({ what: 'Fan-on temperature', was: '103 °C', now: '85 °C', due: 'hand-over' })
        .expect(201)
    ).body
    const pin = (
      await server
        .call()
        .post(api(`/jobs/${job}/complaints`))
        .send({ word: 'hot' })
        .expect(201)
    ).body
    const { body: refused } = await done(job).expect(409)
    expect(refused.errors.map((one: { field: string }) => one.field)).toEqual(['put-back', 'complaints'])

    await server
      .call()
      .patch(api(`/jobs/${job}/put-back/${line.id}`))
      .send({ leftSo: true })
      .expect(400)
    await server
      .call()
      .patch(api(`/jobs/${job}/put-back/${line.id}`))
      .send({ leftSo: true, told: 'the rider' })
      .expect(200)
    await server
      .call()
      .patch(api(`/jobs/${job}/complaints/${pin.id}`))
      .send({ leftOpen: true })
      .expect(200)
    expect((await done(job).expect(200)).body.doneAt).toMatch(/^20/)
    expect((await server.call().get(api(`/jobs/${job}/reports`))).body).toMatchObject([{ n: 1 }])

    await server
      .call()
      .patch(api(`/jobs/${job}`))
      .send({ title: 'Other' })
      .expect(409)
    await server
      .call()
      .delete(api(`/jobs/${job}`))
      .expect(409)
    await server
      .call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name: 'Fuel', table: TABLE })
      .expect(409)
    await server
      .call()
      .post(api(`/jobs/${job}/complaints`))
      .send({ word: 'hot' })
      .expect(409)
    await server.upload(job, 'time,rpm,lambda\n0,3000,0.9\n').expect(409)
    await server
      .call()
      .get(api(`/jobs/${job}/report.json`))
      .expect(200)
    await server
      .call()
      .post(api(`/jobs/${job}/reopen`))
      .expect(200)
    await server
      .call()
      .post(api(`/jobs/${job}/reopen`))
      .expect(409)
    await server
      .call()
      .patch(api(`/jobs/${job}`))
      .send({ title: 'Other' })
      .expect(200)
  })

  it('licensed work closes what would change something, with the reason, and records all else', async () => {
    const job = await newJob({ limits: { licensed: true } })
    const { body } = await server
      .call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name: 'Fuel', table: TABLE })
      .expect(409)
    expect(body.detail).toMatch(/licensed mechanic/)
    await server
      .call()
      .post(api(`/jobs/${job}/complaints`))
      .send({ word: 'surges' })
      .expect(201)
  })
})
