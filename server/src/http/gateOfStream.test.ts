import { ALL_CALLS, DANGERS, WISH_DANGERS, type BenchWish, type DangerKind } from '@yuzumix/core'
import { api } from '../testServer'
import { CURLEW, testBench, type TestBench } from '../testBench'

let bench: TestBench
beforeAll(async () => {
  bench = await testBench()
})
afterAll(() => bench.stop())

const call = () => bench.server.call()
const newJob = (body?: object) => bench.server.newJob(body)
const send = (method: 'put', path: string, body: object) => call()[method](api(path)).send(body)

describe('the gate of the stream', () => {
  const REFUSED_COLD = { kind: 'sweep', stop: 100, fromRpm: 3000, toRpm: 8000, rate: 500, gear: 4 }
  const AHEAD = { kind: 'hold', stop: 30, rpm: 4200, seconds: 2, gear: 4 }
  /** What each wish is tried with, by what is looked at in it. */
  const WISHES: [string, BenchWish['act'], DangerKind, object, boolean][] = [
    ['a lean stop far off', 'limits', 'limit loosened', { limits: { lean: 1.3 } }, true],
    ['knock let pass', 'limits', 'limit loosened', { limits: { knock: 20 } }, true],
    ['boiling let pass', 'limits', 'limit loosened', { limits: { coolantC: 140 } }, true],
    ['any speed let pass', 'limits', 'limit loosened', { limits: { rpm: 30000 } }, true],
    ['lean counted from wide open only', 'limits', 'limit loosened', { limits: { load: 95 } }, true],
    ['much advance', 'set', 'offset', { controls: { throttle: 100, sparkOffset: 20 } }, true],
    ['little fuel', 'set', 'offset', { controls: { throttle: 100, fuelOffset: -30 } }, true],
    [
      'mixture steps that begin far lean',
      'run',
      'offset',
      { script: { kind: 'mixture step', stop: 60, rpm: 5000, offsets: [-30, 0], seconds: 3, gear: 4 } },
      true,
    ],
    [
      'spark steps that jump',
      'run',
      'offset',
      { script: { kind: 'spark step', stop: 60, rpm: 5000, offsets: [0, 14], seconds: 3, gear: 4 } },
      true,
    ],
    ['a cold engine opened wide by script', 'run', 'cold and wide open', { script: REFUSED_COLD }, false],
    [
      'a cold engine opened wide by hand',
      'set',
      'cold and wide open',
      { controls: { throttle: 90, ignition: true, fuel: true } },
      false,
    ],
    ['a speed above the ceiling', 'run', 'above the ceiling', { script: { ...AHEAD, rpm: 7900 } }, false],
    ['a run before the rig list is closed', 'run', 'open gate', { script: AHEAD }, true],
    ['a recording before it', 'record', 'open gate', {}, true],
  ]
  it('every wish is tried with all that is looked at in it, and every danger stands at some door', () => {
    const tried = WISHES.map(([, act, danger]) => `${act}: ${danger}`)
    const wanted = Object.entries(WISH_DANGERS).flatMap(([act, dangers]) =>
      dangers.flatMap((danger) => (danger === 'somebody else drives' ? [] : [`${act}: ${danger}`])),
    )
    expect(wanted.filter((one) => !tried.includes(one))).toEqual([])
    const atDoors = ALL_CALLS.flatMap(({ gate }) => (typeof gate === 'string' ? [] : gate))
    const asked = [...atDoors, ...Object.values(WISH_DANGERS).flat(), 'state not told']
    expect(DANGERS.filter((one) => !asked.includes(one))).toEqual([])
  })
  it.each(Object.entries(WISH_DANGERS).flatMap(([act, dangers]) => (dangers.length ? [act] : [])))(
    '"%s" is refused to whoever does not drive',
    async (act) => {
      const job = await newJob()
      await bench.connect(job, {}, false)
      const client = await bench.watcher(job)
      const wish = WISHES.find((one) => one[1] === act)?.[3] ?? {}
      client.say({ act, ...wish, override: act === 'stop' ? undefined : 'w' })
      await client.until(() => client.refused.length === 1)
      expect(client.refused[0]).toMatch(/Take the wheel/)
      client.socket.close()
    },
  )
  it.each(WISHES)('%s', async (_what, act, danger, rest, asks) => {
    const wish = { act, ...rest }
    const job = await newJob({ title: 'J', limits: { revCeiling: 7500 } })
    const over = { coolantC: danger === 'cold and wide open' ? 3 : 84 }
    if (danger === 'open gate')
      await send('put', `/jobs/${job}/bench`, { maker: 'simulated', machine: CURLEW, ...over }).expect(201)
    else await bench.connect(job, over, false)
    const client = await bench.watcher(job)
    client.say({ act: 'drive' })
    await client.until(() => client.samples.length > 3)
    client.say(wish)
    await client.until(() => client.refused.length === 1)
    expect(client.asks).toHaveLength(asks ? 1 : 0)
    client.say({ ...wish, override: 'a trial that is watched' })
    if (asks) {
      await bench.pass(2000)
      expect(client.refused).toHaveLength(1)
    } else await client.until(() => client.refused.length === 2)
    const acts = (await call().get(api(`/jobs/${job}/entries`))).body as { act: string; text: string }[]
    expect(acts.map((one) => one.act)).toContain(asks ? 'asked for a reason' : 'refused')
    expect(acts.some((one) => one.text.startsWith('a trial that is watched ('))).toBe(asks)
    client.socket.close()
  })
})
