import { knownRollOns } from '../../../core/trials/knownRollOns'
import type { RunColumns } from '@yuzumix/core'
import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

const ask = (job: string, path: string, body: object = {}) =>
  server
    .call()
    .post(api(`/jobs/${job}/${path}`))
    .send(body)

function asCsv({ time, rpm, throttle, lambda, torque, grip, mode }: RunColumns): string {
  const columns = { time, rpm, throttle, lambda: lambda[0], torque, grip, mode }
  const given = Object.entries(columns).filter((one): one is [string, Float32Array] => one[1] !== undefined)
  const rows = Array.from(time, (_, i) => given.map(([, values]) => values[i]!.toFixed(4)).join(','))
  return [given.map(([name]) => name).join(','), ...rows].join('\n')
}

/** A hand that opens in slow steps at two speeds, and a plate that runs ahead of it. */
function gripLog(mode = 1): RunColumns {
  const steps = Array.from({ length: 21 }, (_, k) => k * 5)
  const hz = 20
  const held = 1.5
  const rows = steps.flatMap((grip) => Array.from({ length: held * hz }, () => grip))
  const all = [3000, 6000].flatMap((rpm) => rows.map((grip) => ({ rpm, grip })))
  const plateOf = (grip: number): number => Math.min(100, 1 + 99 * (1 - (1 - grip / 100) ** 2))
  const column = (of: (one: (typeof all)[number], i: number) => number): Float32Array => Float32Array.from(all, of)
  return {
    id: '',
    time: column((_, i) => i / hz),
    rpm: column((one, i) => one.rpm + (i % 7)),
    throttle: column((one) => plateOf(one.grip)),
    grip: column((one) => one.grip),
    mode: column(() => mode),
    torque: column((one) => -5 + 45 * (1 - Math.exp(-plateOf(one.grip) / 25))),
    lambda: [column(() => 0.95)],
  }
}

const PLATE = {
  kind: 'plate',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [3000, 6000],
  load: [0, 10, 20, 30, 60, 100],
  values: [0, 10, 20, 30, 60, 100].map((grip) => [Math.max(1, grip), Math.max(1, grip)]),
}

describe('POST /jobs/:job/response', () => {
  it('tells roll-ons of an imported log, by themselves and in groups', async () => {
    const job = await server.newJob({ title: 'Lean tip-in' })
    const { run, truth, delay, sensor } = knownRollOns(3, { share: 0.25, tau: 0.3, extra: 0, decay: 0.3 })
    await server.upload(job, asCsv(run)).expect(201)
    const found = (await ask(job, 'response').expect(200)).body
    const quick = found.rollOns.filter((one: { toLoad: number; fromLoad: number }) => one.toLoad - one.fromLoad > 15)
    expect(quick).toHaveLength(3)
    quick.forEach((one: { atS: number }, k: number) => expect(Math.abs(one.atS - truth[k]!.at)).toBeLessThan(0.1))
    expect(found.groups[0]).toMatchObject({ n: 3, advice: { what: 'more' } })
    expect(Math.abs(found.lagMs - 1000 * (delay + sensor))).toBeLessThan(40)
    expect(found).toMatchObject({ grip: null, exits: [], overrun: [], lagFrom: 'openings' })
    expect(found.notes.join(' ')).toContain('No grip channel')
    // A lag that is said holds.
    const said = (await ask(job, 'response', { lagMs: 200 }).expect(200)).body
    expect(said).toMatchObject({ lagFrom: 'given' })
    expect(Math.abs(said.lagMs - 200)).toBeLessThan(13)
  })

  it('says what a log without an opening lacks, and answers a job without runs', async () => {
    const job = await server.newJob({ title: 'Nothing moved' })
    expect((await ask(job, 'response').expect(200)).body).toMatchObject({ rollOns: [], groups: [], grip: null })
    await server.upload(
      job,
      'time,rpm,throttle,lambda\n' + Array.from({ length: 300 }, (_, i) => `${i / 50},4000,20,0.95`).join('\n'),
    )
    const { notes } = (await ask(job, 'response').expect(200)).body
    expect(notes.join(' ')).toContain('No opening of the throttle')
  })

  it('refuses runs and sets that are not there, and unknown fields by name', async () => {
    const job = await server.newJob({ title: 'Refused' })
    expect((await ask(job, 'response', { runs: ['none'] }).expect(400)).body.errors[0].field).toBe('runs')
    expect((await ask(job, 'response', { set: 'none' }).expect(400)).body.errors[0].field).toBe('set')
    expect((await ask(job, 'response', { sets: [] }).expect(400)).body.errors[0].field).toContain('sets')
    await ask('nowhere', 'response').expect(404)
  })
})

describe('from grip to plate', () => {
  let job: string
  beforeAll(async () => {
    job = await server.newJob({ title: 'Runs ahead' })
    await server.upload(job, asCsv(gripLog())).expect(201)
  })

  it('maps the plate within 1 %, and flags where it runs ahead', async () => {
    const { grip } = (await ask(job, 'response').expect(200)).body
    let [squares, count] = [0, 0]
    grip.plate.forEach((row: (number | null)[], g: number) =>
      row.forEach((value) => {
        if (value === null) return
        squares += (value - (1 + 99 * (1 - (1 - grip.grip[g] / 100) ** 2))) ** 2
        count++
      }),
    )
    expect(count).toBeGreaterThan(20)
    expect(Math.sqrt(squares / count)).toBeLessThan(1)
    const kinds = grip.flags.map((one: { what: string }) => one.what)
    expect(kinds).toContain('steep')
    expect(kinds).toContain('ahead of the hand')
    expect(kinds).not.toContain('moves by itself')
  })

  it('makes torque straight with the grip, from idle stop to full', async () => {
    const made = (await ask(job, 'plate', { shape: 'torque straight' }).expect(200)).body
    expect(made.table).toMatchObject({ kind: 'plate' })
    const { grip, after } = made.torque
    after[0].forEach((_: unknown, k: number) => {
      const [low, full] = [after[0][k], after.at(-1)[k]]
      if (low === null || full === null) return
      grip.forEach((hand: number, g: number) =>
        expect(Math.abs(after[g][k] - (low + ((full - low) * hand) / 100)) / full).toBeLessThan(0.04),
      )
    })
    made.table.values.forEach((row: number[], g: number) =>
      row.forEach((value, k) => expect(value).toBeGreaterThanOrEqual(g > 0 ? made.table.values[g - 1][k] : 0)),
    )
    expect(made.cautions.join(' ')).toContain('on the stand')
  })

  it('keeps the first third no steeper than now unless somebody says why', async () => {
    const table = (
      await server
        .call()
        .post(api(`/jobs/${job}/tables`))
        .send({
          name: 'Soft',
          table: {
            ...PLATE,
            values: PLATE.values.map((row, g) => row.map((value) => (g > 0 && g < 4 ? value / 2 : value))),
          },
        })
        .expect(201)
    ).body.id
    const held = (await ask(job, 'plate', { shape: 'hand', table }).expect(200)).body
    expect(held.table.values[1][0]).toBeLessThanOrEqual(5.5)
    expect(held.cautions.join(' ')).toMatch(/would be steeper than now/)
    const free = (await ask(job, 'plate', { shape: 'hand', table, reason: 'as the cable was' }).expect(200)).body
    expect(free.table.values[1][0]).toBe(10)
  })

  it('needs a curve for one’s own, one that rises', async () => {
    expect((await ask(job, 'plate', { shape: 'own' }).expect(400)).body.errors[0].field).toBe('curve')
    const falling = [
      [0, 0],
      [50, 60],
      [100, 40],
    ]
    expect((await ask(job, 'plate', { shape: 'own', curve: falling }).expect(400)).body.errors[0].field).toBe(
      'curve[2]',
    )
    await ask(job, 'plate', { shape: 'own', curve: [[0, 0], [100, 100]] }).expect(200) // oxfmt-ignore
    expect((await ask(job, 'plate', { shape: 'hand', table: 'none' }).expect(400)).body.errors[0].field).toBe('table')
    await ask(job, 'plate', { shape: 'wavy' }).expect(400)
  })

  it('says what to log where there is no grip', async () => {
    const bare = await server.newJob({ title: 'A cable' })
    const answer = (await ask(bare, 'plate', { shape: 'hand' }).expect(422)).body
    expect(answer.detail).toMatch(/Log grip and plate together/)
  })

  it('tells two modes in one log apart', async () => {
    const both = await server.newJob({ title: 'Two modes' })
    await server.upload(both, asCsv(gripLog(1))).expect(201)
    await server.upload(both, asCsv({ ...gripLog(2), throttle: gripLog().grip! })).expect(201)
    const first = (await ask(both, 'response', { mode: 1 }).expect(200)).body
    const second = (await ask(both, 'response', { mode: 2 }).expect(200)).body
    expect(first).toMatchObject({ modes: [1, 2], mode: 1 })
    expect(first.notes.join(' ')).toContain('Modes 1, 2')
    expect(first.grip.flags.length).toBeGreaterThan(0)
    expect(second.grip.flags).toEqual([])
    // Side by side in either answer, and how far they lie apart is said.
    expect(first.byMode).toEqual(second.byMode)
    expect(first.byMode.maps.map((one: { of: number }) => one.of)).toEqual([1, 2])
    expect(first.byMode.text).toMatch(/^Modes 1 and 2 lie up to 2\d % of plate apart/)
    expect(first.byGear).toEqual({ maps: [], text: '' })
  })
})

describe('a plate table at every door', () => {
  it('is refused when it falls', async () => {
    const job = await server.newJob({ title: 'Falls' })
    const falls = { ...PLATE, values: PLATE.values.map((row, g) => (g === 3 ? [5, 30] : row)) }
    const send = (path: string, body: object) => server.call().post(api(path)).send(body)
    const refused = (await send(`/jobs/${job}/tables`, { name: 'Falls', table: falls }).expect(422)).body
    expect(refused.detail).toMatch(/3.000 rpm, 30 % of grip the plate would shut/)
    const { id } = (await send(`/jobs/${job}/tables`, { name: 'Rises', table: PLATE }).expect(201)).body
    await send(`/jobs/${job}/tables/${id}/revisions`, { values: falls.values, reason: 'x', parent: 1 }).expect(422)
  })

  it('is asked about when its first third gets steeper', async () => {
    const job = await server.newJob({ title: 'Steeper' })
    const send = (path: string, body: object) => server.call().post(api(path)).send(body)
    const { id } = (await send(`/jobs/${job}/tables`, { name: 'Plate', table: PLATE }).expect(201)).body
    const values = PLATE.values.map((row, g) => (g === 1 ? [15, 15] : g === 2 ? [22, 22] : row))
    const asked = (
      await send(`/jobs/${job}/tables/${id}/revisions`, { values, reason: 'livelier', parent: 1 }).expect(409)
    ).body
    expect(asked).toMatchObject({
      title: 'A plate that opens more',
      steps: [{ load: 10, unit: '% of plate' }, {}],
    })
    await send(`/jobs/${job}/tables/${id}/revisions`, {
      values,
      reason: 'livelier',
      parent: 1,
      override: 'a race start',
    }).expect(201)
    // Softer is nobody's danger.
    await send(`/jobs/${job}/tables/${id}/revisions`, { values: PLATE.values, reason: 'softer', parent: 2 }).expect(201)
  })
})
