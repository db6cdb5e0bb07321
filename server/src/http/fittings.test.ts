import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

describe('what is in a carburettor', () => {
  const jetting = {
    body: {
      kind: 'slide',
      scheme: 'diameter',
      bore: 26,
      needleJet: 2.6,
      clips: 5,
      groove: 0.9,
      screwIs: 'air',
      usualTurns: 1.5,
    },
    carburettors: [{ name: 'Carburettor', cylinders: [1] }],
    box: {
      main: [110, 115],
      pilot: [40],
      cutaway: [],
      springs: [],
      rods: [],
      needles: [
        {
          name: 'T1',
          points: [
            { at: 0, diameter: 2.5 },
            { at: 20, diameter: 2.1 },
          ],
        },
      ],
    },
    checks: ['float'],
    targets: [0.9, 0.91, 0.9, 0.84],
  }
  const fitting = { fitted: [{ main: 115, clip: 3, needle: 'T1' }], reason: 'As it came', predicted: null }
  it('goes on the shelf without a table, and starts the next machine of as many carburettors', async () => {
    const machine = { name: 'Plover 250', cylinders: 1 }
    const first = await server.newJob({ title: 'Plover', jetting, machine })
    await server
      .call()
      .post(api(`/jobs/${first}/sets`))
      .send({ name: 'Fitting 1', fitting })
      .expect(201)
    const kept = (await server.call().post(api('/shelf')).send({ job: first, name: 'Plover jets' }).expect(201)).body
    expect(kept).toMatchObject({ table: null, jets: { settings: jetting, fitted: fitting.fitted } })

    const next = await server.newJob({ title: 'Second', machine })
    const start = api(`/jobs/${next}/shelf-start`)
    const matches = (await server.call().get(api(`/jobs/${next}/shelf-matches`))).body
    expect(matches[0]).toMatchObject({ shelf: { id: kept.id }, checkRuns: [{ stop: 100 }, { stop: 40 }, { stop: 15 }] })
    const started = (await server.call().post(start).send({ shelf: kept.id }).expect(200)).body
    expect(started).toMatchObject({ table: null, lost: [] })
    expect((await server.call().get(api(`/jobs/${next}`))).body.jetting).toEqual(jetting)
    const sets = (await server.call().get(api(`/jobs/${next}/sets`))).body
    expect(sets.find((one: { id: string }) => one.id === started.set)).toMatchObject({
      name: 'As Plover jets',
      fitting: { fitted: fitting.fitted },
    })

    const two = [1, 2].map((n) => ({ name: `Carburettor ${n}`, cylinders: [n] }))
    const twin = await server.newJob({ title: 'Twin', machine, jetting: { ...jetting, carburettors: two } })
    await server
      .call()
      .post(api(`/jobs/${twin}/shelf-start`))
      .send({ shelf: kept.id })
      .expect(422)
    expect((await server.call().get(api(`/jobs/${twin}`))).body.jetting.carburettors).toHaveLength(2)
    const injected = await server.newJob({ title: 'Nothing to keep' })
    await server.call().post(api('/shelf')).send({ job: injected, name: 'Nothing' }).expect(400)
  })
  it('is kept with the job and with the set, and comes back after a restart', async () => {
    const job = await server.newJob({ title: 'Plover', jetting })
    const made = await server
      .call()
      .post(api(`/jobs/${job}/sets`))
      .send({ name: 'Fitting 1', fitting })
      .expect(201)
    expect(made.body.fitting).toEqual(fitting)
    await server.restart()
    expect((await server.call().get(api(`/jobs/${job}`))).body.jetting).toEqual(jetting)
    expect((await server.call().get(api(`/jobs/${job}/sets`))).body[0].fitting).toEqual(fitting)
  })
  it.each([
    [
      'a needle that grows',
      {
        box: {
          ...jetting.box,
          needles: [
            {
              name: 'X',
              points: [
                { at: 0, diameter: 2 },
                { at: 5, diameter: 2.2 },
              ],
            },
          ],
        },
      },
      /grows/,
    ],
    ['a kind nobody knows', { body: { ...jetting.body, kind: 'wick' } }, /kind/],
    ['a check nobody knows', { checks: ['prayer'] }, /checks/],
    ['targets of another number', { targets: [0.9] }, /targets/],
    ['an unknown field', { colour: 'red' }, /colour/],
  ])('%s is refused by name', async (_what, over, text) => {
    const { body } = await server
      .call()
      .post(api('/jobs'))
      .send({ title: 'Plover', jetting: { ...jetting, ...over } })
      .expect(400)
    expect(JSON.stringify(body.errors)).toMatch(text)
  })
  it.each([
    ['half a clip', { ...fitting, fitted: [{ clip: 2.5 }] }],
    ['nothing fitted', { ...fitting, fitted: [] }],
    ['an unknown part', { ...fitting, fitted: [{ turbo: 1 }] }],
  ])('%s is no fitting', async (_what, wrong) => {
    const job = await server.newJob()
    await server
      .call()
      .post(api(`/jobs/${job}/sets`))
      .send({ name: 'Fitting 1', fitting: wrong })
      .expect(400)
  })
})
