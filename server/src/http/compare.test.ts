import { humpTorque } from '../../../core/trials/knownPull'
import { api, testServer, type TestServer } from '../testServer'
import { testSets } from '../testSets'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const call = () => server.call()
const newJob: TestServer['newJob'] = (...args) => server.newJob(...args)
const { pull, newSet, setsOf } = testSets(() => server)

describe('comparing', () => {
  const better = (rpm: number): number => humpTorque(rpm) * (rpm > 6500 ? 1.05 : 1)
  async function twoSets(): Promise<{ job: string; first: string; second: string }> {
    const job = await newJob()
    for (const seed of [1, 2, 3]) await pull(job, seed)
    const { id } = await newSet(job, { name: 'After' })
    for (const seed of [4, 5, 6]) await pull(job, seed, { torque: better })
    return { job, first: (await setsOf(job))[0]!.id, second: id }
  }
  const compare = (job: string, body: object) =>
    call()
      .post(api(`/jobs/${job}/compare`))
      .send(body)
  it('shades where the sets differ, gives gains and says what correction the figures carry', async () => {
    const { job, first, second } = await twoSets()
    const asked = {
      first: [first],
      second,
      stop: 100,
      quantity: 'torque',
      correction: 'none',
      bands: [{ fromRpm: 7000, toRpm: 9000 }],
      at: [8000],
    }
    const { body } = await compare(job, asked).expect(200)
    const at = (rpm: number): number => body.comparison.rpm.indexOf(rpm)
    expect(body.comparison.real[at(8000)]).toBe(true)
    expect(body.comparison.difference[at(8000)]).toBeGreaterThan(1)
    expect(Math.abs(body.gainBegins - 6500)).toBeLessThan(500)
    expect(body.gains.map((one: { what: string }) => one.what)).toEqual([
      'peak',
      'mean over a band',
      'area over a band',
      'at an rpm',
    ])
    expect(body.first).toMatchObject({ name: 'Baseline', runs: 3, correction: 'uncorrected' })
  })
  it('refuses sets that were not measured alike until that is accepted', async () => {
    const { job, first, second } = await twoSets()
    await call()
      .patch(api(`/jobs/${job}/sets/${second}`))
      .send({ rig: 'Town drum', gear: 5 })
      .expect(200)
    const asked = { first: [first], second, stop: 100, quantity: 'power', correction: 'none' }
    const { body } = await compare(job, asked).expect(422)
    expect(body.refused.map((one: { what: string }) => one.what).sort()).toEqual(['gear', 'rig'])
    expect(body.detail).toMatch(/Different rigs: not said and Town drum/)
    const accepted = await compare(job, { ...asked, accept: ['rig', 'gear'] }).expect(200)
    expect(accepted.body.mismatches).toHaveLength(2)
    await compare(job, { ...asked, quantity: 'lambda' }).expect(200)
  })
  it('says what cannot be compared, and refuses nonsense by field', async () => {
    const { job, first, second } = await twoSets()
    const asked = { first: [first], second, stop: 100, quantity: 'torque' }
    expect((await compare(job, { ...asked, stop: 40 }).expect(422)).body.detail).toMatch(/has no runs at this throttle/)
    for (const [over, field] of [
      [{ second: first }, 'second'],
      [{ second: 'none' }, 'second'],
      [{ quantity: 'noise' }, 'quantity'],
      [{ first: [] }, 'first'],
      [{ smoothing: 5 }, 'smoothing'],
    ] as const)
      expect((await compare(job, { ...asked, ...over }).expect(400)).body.errors[0].field).toBe(field)
  })
  it('takes sets of other jobs, several as one reference, or a reference entered as figures', async () => {
    const { job, first, second } = await twoSets()
    const other = await twoSets()
    const { body } = await compare(job, {
      first: [first, other.first],
      second,
      stop: 100,
      quantity: 'torque',
      correction: 'none',
    }).expect(200)
    expect(body.first.name).toBe('2 machines')
    const figures = {
      quantity: 'torque',
      correction: 'none',
      rpm: [3000, 9000],
      mean: [30, 30],
      spread: [1, 1],
      machines: 5,
    }
    const entered = await newSet(job, { name: 'Stock, from the file', figures })
    const compared = await compare(job, {
      first: [entered.id],
      second,
      stop: 100,
      quantity: 'torque',
      correction: 'none',
    }).expect(200)
    expect(compared.body.comparison.first[compared.body.comparison.rpm.indexOf(6000)]).toBe(30)
  })
})
