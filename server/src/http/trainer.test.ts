import { TRAINER_CASES, type TrainingState } from '@yuzumix/core'
import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const call = () => server.call()
const take = async (id: string): Promise<string> =>
  (
    await call()
      .post(api(`/trainer/cases/${id}`))
      .expect(201)
  ).body.id as string
const put = (job: string, path: string, body: object) =>
  call()
    .put(api(`/jobs/${job}/${path}`))
    .send(body)
const post = (job: string, path: string, body: object = {}) =>
  call()
    .post(api(`/jobs/${job}/${path}`))
    .send(body)
const state = async (job: string): Promise<TrainingState> =>
  (
    await call()
      .get(api(`/jobs/${job}/training`))
      .expect(200)
  ).body as TrainingState

describe('the trainer', () => {
  it('tells briefs and nothing of what is hidden', async () => {
    const { text, body } = await call().get(api('/trainer/cases')).expect(200)
    expect(body).toHaveLength(TRAINER_CASES.length)
    const job = await take('lean-low-down')
    const bench = await put(job, 'training/bench', { speed: 4 }).expect(201)
    const told = [text, bench.text, JSON.stringify(await state(job))]
    const one = TRAINER_CASES.find((other) => other.id === 'lean-low-down')!
    for (const line of one.expert) for (const answer of told) expect(answer).not.toContain(line)
    for (const answer of told) expect(answer).not.toMatch(/"faults"|"leak"|cures/)
    expect(bench.body.name).toBe('Simulated rig: Curlew 437, as it came in')
  })

  it('is taken, mended, answered and scored against the truth; then nothing more can be done', async () => {
    const job = await take('lean-low-down')
    await put(job, 'training/bench', { speed: 4 }).expect(201)
    expect((await post(job, 'training/acts', { act: 'pray' }).expect(400)).body.errors[0].field).toBe('act')
    const mended = (await post(job, 'training/acts', { act: 'joints' }).expect(200)).body as TrainingState
    expect(mended.acts.filter((one) => one.done).map((one) => one.id)).toEqual(['joints'])
    const { result } = (await post(job, 'training/finish', { diagnosis: 'air leak' }).expect(200)).body as TrainingState
    // A right guess without a run: neither looked at anything, nor measured after it.
    expect(result).toMatchObject({ found: true, points: 60 })
    expect(result!.lines.find((line) => line.what === 'looked')).toMatchObject({
      points: 0,
      text: expect.stringMatching(/not looked at: small openings/) as string,
    })
    expect(result!.expert.length).toBeGreaterThan(1)
    await post(job, 'training/acts', { act: 'pump' }).expect(409)
    await post(job, 'training/finish', { diagnosis: 'misfire' }).expect(409)
    expect((await state(job)).result).toEqual(result)
    const entries = (await call().get(api(`/jobs/${job}/entries`))).body as { act: string; text: string }[]
    expect(entries).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ act: 'workshop', text: 'Seal the exhaust joints ahead of the sensor' }),
      ]),
    )
  })

  it('a table written to the bench counts as it is in the controller, and a wrong answer finds nothing', async () => {
    const job = await take('nothing-takes')
    const bench = (await put(job, 'training/bench', { speed: 4 }).expect(201)).body
    const values = (bench.tables[0].table.values as number[][]).map((row) => row.map((cell) => cell * 1.06))
    await post(job, 'bench/tables/base', { values }).expect(200)
    const { result } = (await post(job, 'training/finish', { diagnosis: 'weak pump' }).expect(200))
      .body as TrainingState
    expect(result!.found).toBe(false)
    expect(result!.lines.find((line) => line.what === 'mixture')!.points).toBeLessThan(5)
    expect(result!.lines.find((line) => line.what === 'diagnosis')!.points).toBe(0)
  })

  it('an unsafe step is seen, and outlasts the bench', async () => {
    const job = await take('runs-out')
    await put(job, 'training/bench', { speed: 4 }).expect(201)
    const { link } = server.benches.of(job)!
    link.set({ ignition: true, fuel: true, gear: 4, throttle: 80, brake: { kind: 'hold', rpm: 5000 } })
    for (let k = 0; k < 60 && (await state(job)).unsafe === 0; k++) await server.benches.clock.wait(400)
    expect((await state(job)).unsafe).toBe(1)
    link.set({ throttle: 0 })
    await server.benches.clock.wait(400)
    const minutes = (await state(job)).minutes
    expect(minutes).toBeGreaterThan(0)
    await call()
      .delete(api(`/jobs/${job}/bench`))
      .expect(204)
    const after = await state(job)
    expect(after.unsafe).toBe(1)
    await put(job, 'training/bench', { speed: 4 }).expect(201)
    expect((await state(job)).minutes).toBeGreaterThanOrEqual(after.minutes)
  })

  it('is there after a restart, with what was done; its score stays', async () => {
    const job = await take('one-plug-dark')
    await post(job, 'training/acts', { act: 'injectors' }).expect(200)
    await server.restart()
    const after = await state(job)
    expect(after.acts.filter((one) => one.done).map((one) => one.id)).toEqual(['injectors'])
    const finished = (await post(job, 'training/finish', { diagnosis: 'rich cylinder' }).expect(200))
      .body as TrainingState
    expect(finished.result!.lines.find((line) => line.what === 'mixture')!.points).toBe(30)
    await server.restart()
    expect((await state(job)).result).toEqual(finished.result)
  })

  it('nothing is taken apart while the engine runs', async () => {
    const job = await take('rough-at-the-top')
    await put(job, 'training/bench', { speed: 4 }).expect(201)
    server.benches.of(job)!.link.set({ ignition: true, fuel: true })
    await server.benches.clock.wait(3200)
    expect((await post(job, 'training/acts', { act: 'plugs' }).expect(409)).body.detail).toMatch(/Stop the engine/)
  })

  it('other jobs are no cases, a case takes no other machine, and unknown cases are told', async () => {
    const job = await server.newJob()
    expect(await state(job)).toBeNull()
    await put(job, 'training/bench', { speed: 4 }).expect(409)
    await post(job, 'training/acts', { act: 'plugs' }).expect(409)
    await call().post(api('/trainer/cases/ghost')).expect(404)
    const one = await take('rich-everywhere')
    await put(one, 'bench', { maker: 'simulated', machine: 'curlew-437-stock' }).expect(409)
    await put(one, 'training/bench', { speed: 9 }).expect(400)
  })
})
