import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

const MACHINE = { name: 'Curlew 437', cylinders: 1, displacementCc: 437, strokes: 4 }
const newJob = (more: object = {}): Promise<string> =>
  server.newJob({ title: 'Short silencer', machine: MACHINE, ...more })

describe('complaints', () => {
  it('are pinned, answered, listed and taken back', async () => {
    const job = await newJob()
    const { body: pin } = await server
      .call()
      .post(api(`/jobs/${job}/complaints`))
      .send({
        word: 'hesitates',
        text: 'out of slow bends',
        fromRpm: 3000,
        toRpm: 4200,
        fromThrottle: 5,
        toThrottle: 20,
        gear: 2,
        temperature: 'hot',
      })
      .expect(201)
    expect(pin).toMatchObject({ word: 'hesitates', fromRpm: 3000, temperature: 'hot' })
    await server
      .call()
      .patch(api(`/jobs/${job}/complaints/${pin.id}`))
      .send({ found: 'mixture error', done: '4 % added', riderSays: 'gone' })
      .expect(200)
    const { body: list } = await server
      .call()
      .get(api(`/jobs/${job}/complaints`))
      .expect(200)
    expect(list).toEqual([{ ...pin, found: 'mixture error', done: '4 % added', riderSays: 'gone' }])
    await server
      .call()
      .delete(api(`/jobs/${job}/complaints/${pin.id}`))
      .expect(204)
    await server
      .call()
      .delete(api(`/jobs/${job}/complaints/${pin.id}`))
      .expect(404)
  })

  it.each([
    ['beyond the rev ceiling', { word: 'hot', fromRpm: 8000, toRpm: 9500 }, 'toRpm'],
    ['below zero', { word: 'hot', fromRpm: -1 }, 'fromRpm'],
    ['more throttle than there is', { word: 'hot', toThrottle: 120 }, 'toThrottle'],
    ['the wrong way round', { word: 'hot', fromRpm: 5000, toRpm: 3000 }, 'toRpm'],
  ])('%s answer 422 and name the field; nothing is stored', async (_what, complaint, field) => {
    const job = await newJob({ limits: { revCeiling: 9000, revReason: 'tired valve springs' } })
    const { body } = await server
      .call()
      .post(api(`/jobs/${job}/complaints`))
      .send(complaint)
      .expect(422)
    expect(body.errors.map((one: { field: string }) => one.field)).toEqual([field])
    expect((await server.call().get(api(`/jobs/${job}/complaints`))).body).toEqual([])
  })

  it('of another word, or with an unknown member, answer 400', async () => {
    const job = await newJob()
    await server
      .call()
      .post(api(`/jobs/${job}/complaints`))
      .send({ word: 'wobbles' })
      .expect(400)
    await server
      .call()
      .post(api(`/jobs/${job}/complaints`))
      .send({ word: 'hot', where: 'top' })
      .expect(400)
  })
})

describe('the verdict from parts alone', () => {
  it.each([
    [[{ part: 'silencer', bore: 'same', length: 'same', removed: false }], false],
    [[{ part: 'silencer', bore: 'same', length: 'other', removed: false }], true],
    [[{ part: 'catalyst', bore: 'same', length: 'same', removed: true }], true],
    [[{ part: 'header', bore: 'not known', length: 'same', removed: false }], null],
    [[], null],
  ])('%j: %p', async (changed, retune) => {
    const job = await newJob({ changed })
    const { body } = await server
      .call()
      .get(api(`/jobs/${job}/verdict`))
      .expect(200)
    expect(body).toMatchObject({ retune, enough: false })
    expect(body.why.join(' ')).toMatch(/only the baseline tells/)
    expect(body.levels.map((one: { level: string }) => one.level)).toEqual(['base map', 'middle', 'full'])
  })
})
