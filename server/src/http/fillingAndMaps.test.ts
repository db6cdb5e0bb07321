import type { FieldAnswer, TableInfo, WayTold } from '@yuzumix/core'
import { seededRandom } from '../../../core/src/numbers/random'
import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const post = (path: string, body: object) => server.call().post(api(path)).send(body)

const RPM = [2000, 3500, 5000, 6500, 8000]
const LOAD = [10, 30, 50, 70, 100]
const grid = { rpm: RPM, load: LOAD, loadAxis: 'throttle', composition: 'multiply' }
const cellsOf = (value: (rpm: number, load: number) => number): number[][] =>
  LOAD.map((load) => RPM.map((rpm) => value(rpm, load)))

/** A log of sweeps at stops between the rows, by a formula of its own: nothing of the simulator is in it. */
function sweeps(seed: number, columns: (rpm: number, throttle: number) => Record<string, number>): string {
  const { normal } = seededRandom(seed)
  const rows: Record<string, number>[] = []
  let time = 0
  for (const throttle of [10, 18, 25, 33, 40, 50, 60, 72, 85, 100])
    for (let k = 0; k < 140; k++) {
      const rpm = 1900 + (6300 * k) / 139
      const { lambda, ...rest } = columns(rpm, throttle)
      rows.push({ time: (time += 0.06), rpm, throttle, ...rest, lambda: lambda! * (1 + 0.004 * normal()) })
      if (k === 139) time += 4
    }
  const names = Object.keys(rows[0]!)
  return [names.join(','), ...rows.map((row) => names.map((name) => row[name]!.toFixed(5)).join(','))].join('\n')
}
/** Largest distance of known cells from what they should be, and how many are known. */
function apart(found: readonly (readonly (number | null)[])[], wanted: readonly (readonly number[])[]) {
  const known = found.flatMap((cells, row) =>
    cells.flatMap((one, column) => (one === null ? [] : [Math.abs(one - wanted[row]![column]!)])),
  )
  return { most: Math.max(...known), count: known.length }
}

describe('fuel = filling / commanded lambda', () => {
  const breathes = (rpm: number, load: number): number =>
    (30 + 0.6 * load) * (1 + 0.12 * Math.sin(rpm / 2400) * (load / 100))
  const says = (rpm: number, load: number): number => (30 + 0.6 * load) * (1 + 0.00001 * rpm)
  const commands = (rpm: number, load: number): number => 1 - 0.0012 * load - 0.000003 * rpm
  const off = cellsOf((rpm, load) => 100 * (breathes(rpm, load) / says(rpm, load) - 1))
  const tables = async (job: string, commanded = commands): Promise<{ filling: TableInfo; target: TableInfo }> => {
    const add = async (name: string, table: object): Promise<TableInfo> =>
      (await post(`/jobs/${job}/tables`, { name, table }).expect(201)).body as TableInfo
    return {
      filling: await add('Filling', { ...grid, kind: 'filling', values: cellsOf(says) }),
      target: await add('Commanded', { ...grid, kind: 'lambda target', values: cellsOf(commanded) }),
    }
  }
  const reads = (rpm: number, throttle: number) => ({
    lambda: (breathes(rpm, throttle) / says(rpm, throttle)) * commands(rpm, throttle),
  })

  it('the filling is corrected by measured over commanded, whatever preset the job has', async () => {
    const job = await server.newJob()
    const { filling, target } = await tables(job)
    await server.upload(job, sweeps(7, reads)).expect(201)
    const field = (await post(`/jobs/${job}/field`, { lagMs: 0 }).expect(200)).body as FieldAnswer
    const { most, count } = apart(field.cylinders[0]!.changePct, off)
    expect(count).toBe(25)
    expect(most).toBeLessThan(0.9)
    const change = (await post(`/jobs/${job}/change`, { table: filling.id, lagMs: 0 }).expect(200)).body as {
      nodes: { changePct: number }[][]
    }
    expect(Math.sign(change.nodes[4]![1]!.changePct)).toBe(Math.sign(off[4]![1]!))
    // The commanded lambda is no table that readings correct.
    await post(`/jobs/${job}/change`, { table: target.id, lagMs: 0 }).expect(400)

    // Another lambda is commanded since: that is intent, and leaves the filling's need as it was.
    const values = cellsOf((rpm, load) => commands(rpm, load) * 0.97)
    const next = { values, reason: 'Richer for the track', parent: 1 }
    await post(`/jobs/${job}/tables/${target.id}/revisions`, next).expect(201)
    const [told] = (await post(`/jobs/${job}/ways`, { lagMs: 0, ways: [{ kind: 'filling' }] }).expect(200))
      .body as WayTold[]
    const { filling: own, target: stays } = told!.settings as { filling: { values: number[][] }; target: null }
    expect(stays).toBeNull()
    expect(apart(own.values, off).most).toBeLessThan(1.2)
  })

  it('what the log says was commanded goes before the table, and the difference is told', async () => {
    const job = await server.newJob()
    // The table in the job is 5 % richer than what the controller worked by.
    await tables(job, (rpm, load) => commands(rpm, load) * 0.95)
    const log = sweeps(8, (rpm, throttle) => ({ ...reads(rpm, throttle), target_lambda: commands(rpm, throttle) }))
    const { body: run } = await server.upload(job, log).expect(201)
    expect((run as { channels: { channel: string }[] }).channels.map((one) => one.channel)).toContain('commanded')
    const field = (await post(`/jobs/${job}/field`, { lagMs: 0 }).expect(200)).body as FieldAnswer
    expect(apart(field.cylinders[0]!.changePct, off).most).toBeLessThan(1.2)
    expect(field.commandedUnlike!.cells).toBeGreaterThan(20)
    const { logged, table } = field.commandedUnlike!.worst
    expect(logged / table).toBeCloseTo(1 / 0.95, 1)
  })

  it('intent goes into the commanded lambda alone; both are one act, and top rows are made one on demand', async () => {
    const job = await server.newJob()
    const { filling, target } = await tables(job)
    await server.upload(job, sweeps(9, reads)).expect(201)
    const way = { kind: 'filling', intent: 'track-12.8', equalFrom: 70 }
    const [told] = (await post(`/jobs/${job}/ways`, { lagMs: 0, ways: [way] }).expect(200)).body as WayTold[]
    const settings = told!.settings as { filling: { values: number[][] }; target: { values: number[][] } }
    expect(settings.target.values[4]![0]).toBeCloseTo(12.8 / 14.7, 9)
    expect(apart(settings.filling.values.slice(0, 3), off.slice(0, 3)).most).toBeLessThan(1.2)
    const after = settings.filling.values.map((cells, row) =>
      cells.map((pct, column) => cellsOf(says)[row]![column]! * (1 + pct / 100)),
    )
    after[3]!.forEach((one, column) => expect(one).toBeCloseTo(after[4]![column]!, 6))
    // Rows made one move far: a reason is asked for.
    await post(`/jobs/${job}/ways/take`, { lagMs: 0, way }).expect(409)
    const taken = await post(`/jobs/${job}/ways/take`, { lagMs: 0, way, override: 'Tried on the brake' }).expect(201)
    const saved = (taken.body as { tables: TableInfo[] }).tables ?? (taken.body as TableInfo[])
    expect(saved.map((one) => [one.id, one.revisions.length])).toEqual([
      [filling.id, 2],
      [target.id, 2],
    ])
    expect(saved[1]!.table.values[4]![0]).toBe(Math.floor((12.8 / 14.7) * 1000) / 1000)
  })

  it('a filling beyond what an engine breathes is a caution, and asked about when it is saved', async () => {
    const job = await server.newJob()
    const { filling } = await tables(job)
    const wanted = { ...grid, composition: undefined, pct: cellsOf((_, load) => (load === 100 ? 45 : 0)) }
    const [told] = (await post(`/jobs/${job}/ways`, { wanted, ways: [{ kind: 'filling' }] }).expect(200))
      .body as WayTold[]
    expect((told!.cautions as unknown as string[]).join()).toMatch(/5 cells of the filling above 125 %, 1\d\d % at/)
    const save = { reason: 'All into the filling', parent: 1, values: cellsOf(() => 140) }
    const { body } = await post(`/jobs/${job}/tables/${filling.id}/revisions`, save).expect(409)
    expect(JSON.stringify(body)).toMatch(/filled/)
    await post(`/jobs/${job}/ways`, { wanted, ways: [{ kind: 'filling', intent: 'none-such' }] }).expect(400)
    const other = await server.newJob()
    const none = await post(`/jobs/${other}/ways`, { wanted, ways: [{ kind: 'filling' }] }).expect(400)
    expect(JSON.stringify(none.body)).toMatch(/name the table of filling/)
  })
})

describe('a map by pressure and one by throttle that take turns', () => {
  /** An engine whose pressure follows the plate, and a controller whose two maps are each wrong in a way of its own. */
  const kPa = (rpm: number, throttle: number): number => 30 + 70 * (1 - Math.exp(-throttle / (8 + rpm / 500)))
  const lowIs = (rpm: number): number => 1.05 + 0.03 * Math.sin(rpm / 2100)
  const highIs = (rpm: number): number => 0.95 + 0.02 * Math.cos(rpm / 2300)
  const share = (throttle: number): number => Math.min(1, Math.max(0, (throttle - 25) / 10))
  const reads = (rpm: number, throttle: number) => {
    const high = share(throttle)
    return {
      manifold: kPa(rpm, throttle),
      lambda: 0.9 * (lowIs(rpm) * (1 - high) + highIs(rpm) * high),
    }
  }
  const PRESSURES = [40, 55, 70, 85, 100]
  const ones = (load: number[]): number[][] => load.map(() => RPM.map(() => 10))

  it('readings are booked to the map in force, and what one map was changed by does not bear on the other', async () => {
    const job = await server.newJob()
    const add = async (name: string, table: object, inForce: object): Promise<TableInfo> =>
      (await post(`/jobs/${job}/tables`, { name, table, inForce }).expect(201)).body as TableInfo
    const base = { kind: 'fuel base', composition: 'multiply', rpm: RPM }
    const byPressure = await add(
      'By pressure',
      { ...base, loadAxis: 'manifold', load: PRESSURES, values: ones(PRESSURES) },
      { by: 'throttle', from: null, to: 35 },
    )
    const byThrottle = await add(
      'By throttle',
      { ...base, loadAxis: 'throttle', load: LOAD, values: ones(LOAD) },
      { by: 'throttle', from: 25, to: null },
    )
    expect(byThrottle.inForce).toEqual({ by: 'throttle', from: 25, to: null })
    await server.upload(job, sweeps(21, reads)).expect(201)
    const ask = async (table: string) =>
      (await post(`/jobs/${job}/change`, { table, lagMs: 0, target: 0.9, limits: { fill: false } }).expect(200))
        .body as {
        nodes: { changePct: number; arithmetic: { what: string; result: number }[] }[][]
        measuredOn: { changedCells: number }
      }
    /** What was measured at each cell, before limits and tapers. */
    const field = async (table: string): Promise<(number | null)[][]> => {
      const { nodes } = await ask(table)
      return nodes.map((cells) =>
        cells.map(({ arithmetic }) => arithmetic.find((one) => one.what === 'measured')?.result ?? null),
      )
    }
    // Cells well inside the range of each map: the other's error is nowhere in them.
    const low = await field(byPressure.id)
    const high = await field(byThrottle.id)
    RPM.forEach((rpm, column) => {
      for (const row of [2, 3, 4]) expect(Math.abs(high[row]![column]! - 100 * (highIs(rpm) - 1))).toBeLessThan(0.7)
      expect(Math.abs(low[2]![column]! - 100 * (lowIs(rpm) - 1))).toBeLessThan(1)
    })

    // The whole change, which rests on all readings, is none for a map that takes turns.
    const whole = { lagMs: 0, ways: [{ kind: 'table', table: byThrottle.id }] }
    const { body: refused } = await post(`/jobs/${job}/ways`, whole).expect(400)
    expect(JSON.stringify(refused)).toMatch(/one of several maps that take turns/)

    // The throttle map is changed: what the pressure map needs is as it was.
    const values = byThrottle.table.values.map((cells) => cells.map((one) => one * 0.98))
    await post(`/jobs/${job}/tables/${byThrottle.id}/revisions`, { values, reason: 'Leaner above', parent: 1 }).expect(
      201,
    )
    expect(await field(byPressure.id)).toEqual(low)
    expect((await ask(byThrottle.id)).measuredOn.changedCells).toBe(25)
  })

  it('a rule that cannot be is refused; one can be said later, and travels with the job', async () => {
    const job = await server.newJob()
    const table = { ...grid, kind: 'fuel base', values: ones(LOAD) }
    const bad = { name: 'X', table, inForce: { by: 'throttle', from: 40, to: 30 } }
    await post(`/jobs/${job}/tables`, bad).expect(400)
    await post(`/jobs/${job}/tables`, { ...bad, inForce: { by: 'throttle', from: null, to: null } }).expect(400)
    const { body } = await post(`/jobs/${job}/tables`, { name: 'X', table }).expect(201)
    const { id } = body as TableInfo
    const inForce = { by: 'rpm', from: 1000, to: 5000 }
    const changed = await server
      .call()
      .patch(api(`/jobs/${job}/tables/${id}`))
      .send({ inForce })
      .expect(200)
    expect((changed.body as TableInfo).inForce).toEqual(inForce)
    const { text } = await server
      .call()
      .get(api(`/jobs/${job}/entries`))
      .expect(200)
    expect(text).toMatch(/engine speed from 1\D?000 to 5\D?000 rpm/)
    const back = await server
      .call()
      .patch(api(`/jobs/${job}/tables/${id}`))
      .send({ inForce: null })
      .expect(200)
    expect((back.body as TableInfo).inForce).toBeNull()
  })
})
