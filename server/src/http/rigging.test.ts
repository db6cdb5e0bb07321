import { api, CSV, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

const MACHINE = { name: 'Curlew 437', cylinders: 1, displacementCc: 437, strokes: 4 }
const newJob = (more: object = {}): Promise<string> =>
  server.newJob({ title: 'Short silencer', machine: MACHINE, ...more })

describe('the rig list', () => {
  it('is made from the job, takes own lines, keeps ticks, and lends own lines to like machines', async () => {
    const road = await newJob({ rigging: { drive: 'road' } })
    const lines = (
      await server
        .call()
        .get(api(`/jobs/${road}/rig`))
        .expect(200)
    ).body as { id: string; done: boolean }[]
    expect(lines.map((one) => one.id)).not.toContain('straps')
    await server
      .call()
      .patch(api(`/jobs/${road}/rig/rider`))
      .send({ done: true })
      .expect(200)
    const own = (
      await server
        .call()
        .post(api(`/jobs/${road}/rig`))
        .send({ text: 'Tape the mirror', minutes: 1 })
        .expect(201)
    ).body
    expect(own).toMatchObject({ from: 'own', done: false, minutes: 1 })
    const ticked = (await server.call().get(api(`/jobs/${road}/rig`))).body as { id: string; done: boolean }[]
    expect(ticked.filter((one) => one.done).map((one) => one.id)).toEqual(['rider'])

    const next = await newJob()
    const kept = (await server.call().get(api(`/jobs/${next}/rig`))).body.filter(
      (one: { from: string }) => one.from === 'like machine',
    )
    expect(kept).toMatchObject([{ text: 'Tape the mirror', done: false }])
    await server
      .call()
      .patch(api(`/jobs/${next}/rig/${kept[0].id}`))
      .send({ done: true })
      .expect(200)
    await server
      .call()
      .patch(api(`/jobs/${next}/rig/no-such-line`))
      .send({ done: true })
      .expect(404)
  })
})

describe('limits that are told once', () => {
  it('the rev ceiling holds in the plan and in the field', async () => {
    const job = await newJob({ limits: { revCeiling: 3030, revReason: 'tired valve springs' } })
    await server.upload(job, CSV).expect(201)
    const { body: plan } = await server
      .call()
      .get(api(`/jobs/${job}/plan`))
      .expect(200)
    expect(Math.max(...plan.plan.steps.map((one: { toRpm: number }) => one.toRpm))).toBeLessThanOrEqual(3030)
    const { body: field } = await server
      .call()
      .post(api(`/jobs/${job}/field`))
      .send({})
      .expect(200)
    expect(field.runs[0].setAside['above the rev ceiling']).toBeGreaterThan(20)
  })
  it('the bench stops there, whatever limit is asked for', async () => {
    const job = await newJob({ limits: { revCeiling: 5000 } })
    await server
      .call()
      .put(api(`/jobs/${job}/bench`))
      .send({ maker: 'simulated', machine: 'curlew-437-short-silencer' })
      .expect(201)
    const session = server.benches.of(job)!
    await session.readAim()
    expect(session.news().limits.rpm).toBe(5000)
    await server.call().delete(api(`/jobs/${job}/bench`))
  })
})

describe('the ledger and the bench', () => {
  it('what the application wrote and did not keep stands in the ledger by itself; what must be back before blocks', async () => {
    const job = await newJob()
    await server
      .call()
      .put(api(`/jobs/${job}/bench`))
      .send({ maker: 'simulated', machine: 'curlew-437-short-silencer' })
      .expect(201)
    const { body: state } = await server.call().get(api(`/jobs/${job}/bench`))
    const [slot] = state.tables as { id: string; table: { values: number[][] } }[]
    const write = () =>
      server
        .call()
        .post(api(`/jobs/${job}/bench/tables/${slot!.id}`))
        .send({ values: slot!.table.values })
    const { body: charger } = await server
      .call()
      .post(api(`/jobs/${job}/put-back`))
      .send({ what: 'Charger', was: 'connected', now: 'off', due: 'write' })
    expect((await write().expect(409)).body.detail).toMatch(/Charger/)
    await server
      .call()
      .patch(api(`/jobs/${job}/put-back/${charger.id}`))
      .send({ back: true })
      .expect(200)
    await write().expect(200)
    const ledger = async () => (await server.call().get(api(`/jobs/${job}/put-back`))).body as object[]
    expect(await ledger()).toMatchObject([{ back: true }, { automatic: true, back: false, due: 'hand-over' }])
    await server
      .call()
      .post(api(`/jobs/${job}/bench/restore`))
      .expect(200)
    expect(await ledger()).toMatchObject([{ back: true }, { automatic: true, back: true }])
    await server.call().delete(api(`/jobs/${job}/bench`))
  })
})

describe('two probes in one gas', () => {
  const log = `time,rpm,throttle,lambda1,lambda2\n${Array.from({ length: 300 }, (_, i) => `${i / 50},${3000 + i},30,${(0.9 + 0.02 * Math.sin(i / 20)).toFixed(4)},${(1.03 * (0.9 + 0.02 * Math.sin(i / 20))).toFixed(4)}`).join('\n')}\n`
  it('make one cylinder, and are checked against each other', async () => {
    const job = await newJob()
    await server.upload(job, log).expect(201)
    const cylinders = async (): Promise<number> =>
      (
        await server
          .call()
          .post(api(`/jobs/${job}/field`))
          .send({})
          .expect(200)
      ).body.cylinders.length
    expect(await cylinders()).toBe(2)
    const probes = [1, 2].map((probe) => ({ probe, cylinder: 1 }))
    await server
      .call()
      .patch(api(`/jobs/${job}`))
      .send({ rigging: { probes } })
      .expect(200)
    expect(await cylinders()).toBe(1)
    const { body } = await server
      .call()
      .get(api(`/jobs/${job}/probes`))
      .expect(200)
    expect(body).toMatchObject([{ cylinder: 1, first: 1, second: 2, agree: false, off: null }])
    expect(body[0].differencePct).toBeCloseTo(-2.9, 1)
  })
})
