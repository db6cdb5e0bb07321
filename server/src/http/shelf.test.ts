import { api, TABLE, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

const MACHINE = { name: 'Curlew 437', cylinders: 1, displacementCc: 437, strokes: 4 }
const newJob = (more: object = {}): Promise<string> =>
  server.newJob({ title: 'Short silencer', machine: MACHINE, ...more })

describe('the shelf', () => {
  it('offers what is near, says what differs, starts a job, and tells whether somebody was in here', async () => {
    const first = await newJob({
      fuelSold: { ethanolPct: 10 },
      changed: [{ part: 'silencer', bore: 'same', length: 'other', removed: false }],
    })
    const table = (
      await server
        .call()
        .post(api(`/jobs/${first}/tables`))
        .send({ name: 'Fuel', table: TABLE })
        .expect(201)
    ).body.id
    const kept = (
      await server.call().post(api('/shelf')).send({ job: first, name: 'Curlew, short', table }).expect(201)
    ).body
    const next = await newJob({
      title: 'Second',
      fuelSold: { ethanolPct: 5 },
      changed: [{ part: 'silencer', bore: 'same', length: 'other', removed: false }],
    })
    const matches = (
      await server
        .call()
        .get(api(`/jobs/${next}/shelf-matches`))
        .expect(200)
    ).body
    expect(matches[0].shelf.id).toBe(kept.id)
    expect(matches[0].score).toBeGreaterThan(0.8)
    expect(matches[0].differences).toEqual([expect.stringMatching(/5 % less ethanol: about 2\.\d % of fuel, leaner/)])
    expect(matches[0].checkRuns).toHaveLength(3)
    const started = (
      await server
        .call()
        .post(api(`/jobs/${next}/shelf-start`))
        .send({ shelf: kept.id, override: 'known from the stand' })
        .expect(200)
    ).body
    const against = api(`/jobs/${next}/tables/${started.table}/against-shelf`)
    expect((await server.call().post(against).send({ shelf: kept.id }).expect(200)).body.same).toBe(true)
    const values = TABLE.values.map((row, r) => row.map((value, c) => value + (r === 1 && c > 0 ? 3 : 0)))
    await server
      .call()
      .post(api(`/jobs/${next}/tables/${started.table}/revisions`))
      .send({ values, reason: 'tried', parent: 1 })
      .expect(201)
    expect((await server.call().post(against).send({ shelf: kept.id })).body).toMatchObject({
      same: false,
      cells: 2,
      of: 6,
      largest: 3,
    })
  })
  it('holds an untouched machine against one as it came, and calls a calibration no proof', async () => {
    const [first, next] = [await newJob({ title: 'First' }), await newJob({ title: 'Untouched' })]
    const add = async (job: string): Promise<string> =>
      (
        await server
          .call()
          .post(api(`/jobs/${job}/tables`))
          .send({ name: 'Fuel', table: TABLE })
          .expect(201)
      ).body.id as string
    const [made, mine] = [await add(first), await add(next)]
    const values = TABLE.values.map((row) => row.map((value) => value + 4))
    await server
      .call()
      .post(api(`/jobs/${first}/tables/${made}/revisions`))
      .send({ values, reason: 'short silencer', parent: 1 })
      .expect(201)
    const keep = (job: string, table: string, name: string) =>
      server.call().post(api('/shelf')).send({ job, name, table }).expect(201)
    const kept = (await keep(first, made, 'Short silencer')).body
    const ask = async (job: string, table: string, shelf: string): Promise<{ said: string; same: boolean }> =>
      (
        await server
          .call()
          .post(api(`/jobs/${job}/tables/${table}/against-shelf`))
          .send({ shelf })
          .expect(200)
      ).body as { said: string; same: boolean }
    expect((await ask(next, mine, kept.id)).said).toMatch(/^Nobody seems to have been in here.*"First" when it came/)
    // One that began with a calibration did not come with it.
    const begun = await newJob({ title: 'Begun' })
    const started = await server
      .call()
      .post(api(`/jobs/${begun}/shelf-start`))
      .send({ shelf: kept.id, override: 'known from the stand' })
      .expect(200)
    expect((await ask(begun, started.body.table, kept.id)).said).toMatch(/a calibration somebody made/)
    const again = (await keep(begun, started.body.table, 'Begun')).body
    expect(again.came).toBeNull()
    expect((await ask(next, mine, again.id)).said).toMatch(/Whether somebody has been in here that does not tell/)
  })
  it('fits a map of other breakpoints and says what was lost; refuses one of another kind', async () => {
    const first = await newJob()
    const fine = {
      ...TABLE,
      rpm: [1000, 2500, 4000, 6000],
      values: [
        [0, 1, 2, 3],
        [4, 5, 6, 7],
      ],
    }
    const table = (
      await server
        .call()
        .post(api(`/jobs/${first}/tables`))
        .send({ name: 'Fine', table: fine })
    ).body.id
    const kept = (await server.call().post(api('/shelf')).send({ job: first, name: 'Fine', table })).body.id
    const next = await newJob()
    const own = (
      await server
        .call()
        .post(api(`/jobs/${next}/tables`))
        .send({ name: 'Own', table: TABLE })
    ).body.id
    const started = (
      await server
        .call()
        .post(api(`/jobs/${next}/shelf-start`))
        .send({ shelf: kept, override: 'known from the stand' })
        .expect(200)
    ).body
    expect(started).toMatchObject({ table: own, lost: ['1 of its rpm breakpoints falls between the new ones'] })
    const now = (await server.call().get(api(`/jobs/${next}/tables/${own}`))).body
    expect(now.revisions).toHaveLength(2)
    expect(now.table.values[0][0]).toBeCloseTo(2 / 3, 9)
    await server
      .call()
      .post(api(`/jobs/${next}/shelf-start`))
      .send({ shelf: 'none' })
      .expect(400)
  })
})
