import { api, asBytes, CSV, TABLE, testServer, type TestServer } from '../testServer'

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

describe('notes', () => {
  /** A whole PNG of one pixel. */
  const PNG = Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
    'base64',
  )
  const note = (job: string) => server.call().post(api(`/jobs/${job}/entries`))
  it('keep their photo to the byte, where they are pinned, and go through the archive', async () => {
    const job = await newJob()
    const { body: entry } = await note(job)
      .field('text', 'Plug of the short silencer')
      .field('rpm', '4500')
      .field('load', '20')
      .attach('photo', PNG, 'plug.png')
      .expect(201)
    expect(entry).toMatchObject({ kind: 'note', rpm: 4500, load: 20, photo: 'image/png' })
    const photo = await server
      .call()
      .get(api(`/jobs/${job}/entries/${entry.id}/photo`))
      .expect(200)
    expect(photo.body).toEqual(PNG)
    await server
      .call()
      .post(api(`/jobs/${job}/complaints`))
      .send({ word: 'hunts' })
      .expect(201)
    await server
      .call()
      .patch(api(`/jobs/${job}/rig/battery`))
      .send({ done: true })
      .expect(200)

    const zip = await server
      .call()
      .get(api(`/jobs/${job}/archive`))
      .buffer()
      .parse(asBytes)
      .expect(200)
    const copy = (
      await server
        .call()
        .post(api('/archives'))
        .attach('file', zip.body as Buffer, 'job.zip')
        .expect(201)
    ).body.id
    const again = (await server.call().get(api(`/jobs/${copy}/entries`))).body.find(
      (one: { kind: string }) => one.kind === 'note',
    )
    expect(again).toMatchObject({ text: 'Plug of the short silencer', rpm: 4500, photo: 'image/png' })
    expect((await server.call().get(api(`/jobs/${copy}/entries/${again.id}/photo`))).body).toEqual(PNG)
    expect((await server.call().get(api(`/jobs/${copy}/complaints`))).body).toMatchObject([{ word: 'hunts' }])
    expect(
      (await server.call().get(api(`/jobs/${copy}/rig`))).body.find((one: { id: string }) => one.id === 'battery').done,
    ).toBe(true)
  })
  it.each([
    [
      'a HEIC',
      Buffer.concat([Buffer.from([0, 0, 0, 24]), Buffer.from('ftypheic0000mif1heic'), Buffer.alloc(400)]),
      422,
    ],
    ['a picture that is cut off', PNG.subarray(0, 50), 422],
    ['a text', Buffer.from('this is no picture'), 422],
    ['a photo of 40 MB', Buffer.alloc(40 * 1024 ** 2, 1), 413],
  ])('%s is refused, and nothing is kept', async (_what, data, status) => {
    const job = await newJob()
    await note(job).field('text', 'a note').attach('photo', data, 'photo').expect(status)
    expect(
      (await server.call().get(api(`/jobs/${job}/entries`))).body.filter(
        (one: { kind: string }) => one.kind === 'note',
      ),
    ).toEqual([])
  })
  it('without words, or pinned to a run that is not there, are refused', async () => {
    const job = await newJob()
    await note(job).field('rpm', '3000').expect(400)
    await note(job).field('text', 'x').field('run', 'none').expect(400)
  })
})

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
        .send({ shelf: kept.id })
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
        .send({ shelf: kept })
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
