import { DEFAULT_FILTERS } from '../run/run'
import type { Table } from '../table/table'
import type { RunColumns } from '../run/run'
import { accelerationChange } from './rollOns/accelerationChange'
import { responseAnswer } from '../question/responseAnswer'
import { engineBraking } from './exits/engineBraking'
import { gearsCompared } from './gears'
import { gripMap } from './grip/gripMap'
import { testRun, ramp } from './testRun'
import type { LoopExit } from './exits/loopExits'
import { torqueAtMixture } from './rollOns/mixtureCurve'
import { openingsOf } from './rollOns/openingsOf'
import { overrunsOf } from './exits/overrun'
import { makePlate, shareAsked } from './grip/plateTable'
import { respond } from './response'
import { rollOnPlan } from './rollOns/rollOnPlan'
import { exitWords, taperExits } from './exits/taperExits'
import { hesitationOf, torqueDelay } from './rollOns/torqueAfter'
import { torqueMap } from './grip/torqueMap'

const steady = { rpm: 4000, lambda: 0.95, throttle: 10 }

describe('openings of the throttle', () => {
  it('are told by start, end, speed and rate', () => {
    const run = testRun(8, (t) => ({ ...steady, throttle: ramp(t, 2, 2.2, 10, 50) }))
    const [one, ...more] = openingsOf(run)
    expect(more).toEqual([])
    expect(one).toMatchObject({ rpm: 4000 })
    expect(one!.at).toBeCloseTo(2, 1)
    expect(one!.fromLoad).toBeCloseTo(10, 0)
    expect(one!.toLoad).toBeCloseTo(50, 0)
    expect(one!.rate).toBeGreaterThan(150)
    expect(one!.rate).toBeLessThan(260)
  })
  it('are two where the hand rests between them, and none where it wanders, shuts or is noisy', () => {
    const twice = testRun(8, (t) => ({ ...steady, throttle: ramp(t, 2, 2.2, 10, 30) + ramp(t, 4, 4.2, 0, 30) }))
    expect(openingsOf(twice).map((one) => Math.round(one.toLoad))).toEqual([30, 60])
    expect(openingsOf(testRun(20, (t) => ({ ...steady, throttle: ramp(t, 2, 18, 10, 60) })))).toEqual([])
    expect(openingsOf(testRun(8, (t) => ({ ...steady, throttle: ramp(t, 2, 2.2, 50, 10) })))).toEqual([])
    const noisy = testRun(8, (t) => ({ ...steady, throttle: 20 + 0.5 * Math.sin(900 * t * t) }))
    expect(openingsOf(noisy)).toEqual([])
  })
})

describe('torque after an opening', () => {
  const risen = (t: number): number => 5 + 35 * (1 - Math.exp(-Math.max(0, t - 2.05) / 0.1))
  const of = (torque: (t: number) => number) => {
    const run = testRun(6, (t) => ({ ...steady, throttle: ramp(t, 2, 2.1, 10, 50), torque: torque(t) }))
    return { run, opening: openingsOf(run)[0]! }
  }
  it('comes to nine tenths when an exponential does: 2.3 time constants', () => {
    const { run, opening } = of(risen)
    expect(torqueDelay(run, opening)).toBeCloseTo(0.05 + 0.1 * Math.LN10, 1)
    expect(hesitationOf(run, opening)).toBeNull()
  })
  it('dips, or stands still, and that is told', () => {
    const dip = of((t) => risen(t) - (t > 2.25 && t < 2.5 ? 15 : 0))
    expect(hesitationOf(dip.run, dip.opening)).toMatchObject({ kind: 'dip' })
    const flat = of((t) => 5 + ramp(t, 2.05, 2.2, 0, 15) + ramp(t, 2.6, 2.8, 0, 20))
    const found = hesitationOf(flat.run, flat.opening)!
    expect(found.kind).toBe('plateau')
    expect(found.lastsS).toBeGreaterThan(0.3)
  })
  it('is not told without torque', () => {
    const run = testRun(6, (t) => ({ ...steady, throttle: ramp(t, 2, 2.1, 10, 50) }))
    expect(torqueDelay(run, openingsOf(run)[0]!)).toBeNull()
  })
})

describe('overruns', () => {
  const LAG = 0.2
  /** Shut from 2 s to 4 s, fuel cut at once and back 0.15 s after the opening. */
  const run = testRun(8, (t) => ({
    rpm: t < 2 ? 6000 : t < 4 ? 6000 - 1000 * (t - 2) : 4000,
    throttle: t < 2 ? 30 : t < 4 ? 0 : 30,
    lambda: t - LAG > 2 && t - LAG < 4.15 ? 1.6 : 0.95,
    torque: t < 2 ? 30 : t < 4.15 ? -8 : ramp(t, 4.15, 4.35, -8, 32),
  }))
  it('tell where fuel was cut and back, and how long torque took', () => {
    const [one, ...more] = overrunsOf(run, LAG)
    expect(more).toEqual([])
    expect(Math.abs(one!.cutRpm - 6000)).toBeLessThan(80)
    expect(Math.abs(one!.backRpm! - 4000)).toBeLessThan(80)
    // Nine tenths of 32 on a rise from -8 in 0.2 s, begun 0.15 s after the opening.
    expect(one!.delayS).toBeCloseTo(0.15 + (0.2 * (0.9 * 32 + 8)) / 40, 1)
    expect(one!.jerk).toBeGreaterThan(150)
  })
  it('without a cut are none; shut for good they have no delay', () => {
    expect(overrunsOf({ ...run, lambda: [run.lambda[0]!.map(() => 0.95)] }, LAG)).toEqual([])
    const shut = testRun(5, (t) => ({
      rpm: t < 2 ? 6000 : 6000 - 1000 * (t - 2),
      throttle: t < 2 ? 30 : 0,
      lambda: t - LAG > 2 && t - LAG < 4 ? 1.6 : 0.95,
    }))
    const [one] = overrunsOf(shut, LAG)
    expect(one).toMatchObject({ delayS: null, jerk: null })
    expect(Math.abs(one!.backRpm! - 4000)).toBeLessThan(100)
  })
  it('give engine braking by speed, with an interval from two on', () => {
    const alone = engineBraking([run])
    expect(alone.find((one) => one.rpm === 5000)).toMatchObject({
      overruns: 1,
      torque: [expect.closeTo(-8, 3), null, null],
    })
    const both = engineBraking([run, { ...run, torque: run.torque!.map((value) => value - 1) }])
    const [mean, low, high] = both.find((one) => one.rpm === 5000)!.torque
    expect(mean).toBeCloseTo(-8.5, 3)
    expect(low!).toBeLessThan(-9)
    expect(high!).toBeGreaterThan(-8)
  })
})

describe('gears at the same stops', () => {
  const inGear = (gear: number, lambda: number, seed: number) =>
    testRun(
      14,
      (t) => ({ ...steady, rpm: 2500 + 400 * t, throttle: 40, gear, lambda: lambda + 0.003 * Math.sin(seed + 7 * t) }),
      `gear ${gear} ${seed}`,
    )
  it('that read alike do not matter; one that reads leaner does', () => {
    const alike = gearsCompared(
      [1, 2, 3].map((seed) => inGear(3, 0.95, seed)).concat([4, 5, 6].map((seed) => inGear(4, 0.95, seed))),
      0,
      DEFAULT_FILTERS,
    )
    expect(alike).toMatchObject({ matters: false, gears: [3, 4], text: 'No gear dependence, any will do.' })
    const apart = gearsCompared(
      [1, 2, 3].map((seed) => inGear(3, 0.95, seed)).concat([4, 5, 6].map((seed) => inGear(4, 0.98, seed))),
      0,
      DEFAULT_FILTERS,
    )
    expect(apart.matters).toBe(true)
    expect(apart.differencePct).toBeCloseTo(100 * Math.log(0.98 / 0.95), 0)
    expect(gearsCompared([inGear(3, 0.95, 1)], 0, DEFAULT_FILTERS).differencePct).toBeNull()
  })
})

describe('plate tables', () => {
  const grip = [0, 10, 20, 33, 50, 75, 100]
  const now = { grip, rpm: [3000, 6000], values: grip.map((hand) => [Math.max(2, hand), Math.max(2, hand)]) }
  /** Torque that levels off: half of it is there at 14 % of plate. */
  const torqueOf = (plate: number): number => -6 + 46 * (1 - Math.exp(-plate / 20))
  const runs = [2, 5, 8, 12, 18, 25, 35, 50, 70, 100].map((stop) =>
    testRun(12, (t) => ({ rpm: 2500 + 350 * t, throttle: stop, lambda: 0.95, torque: torqueOf(stop) }), `stop ${stop}`),
  )
  const map = torqueMap(runs)!

  it('make torque straight from idle stop to full', () => {
    const made = makePlate(now, map, { shape: 'torque straight' }, 2, 'a test')
    grip.forEach((hand, g) => {
      const wanted = torqueOf(2) + (hand / 100) * (torqueOf(100) - torqueOf(2))
      for (const k of [0, 1])
        expect(Math.abs(torqueOf(made.values[g]![k]!) - wanted)).toBeLessThan(0.02 * torqueOf(100))
    })
    expect(made.values[0]).toEqual([2, 2])
    expect(made.torque.after.at(-1)![0]).toBeCloseTo(torqueOf(100), 0)
  })
  it('rise whatever the shape, keep the idle stop, and hold the first third', () => {
    for (const shape of ['hand', 'torque straight', 'soft third', 'share'] as const) {
      const { values } = makePlate(now, map, { shape, share: 0.6 }, 2)
      values.forEach((row, g) => {
        row.forEach((value, k) => expect(value).toBeGreaterThanOrEqual(g > 0 ? values[g - 1]![k]! : 2))
      })
      expect(values[0]).toEqual([2, 2])
    }
    const lazy = {
      ...now,
      values: now.values.map((row, g) => row.map((value) => (g > 0 && g < 4 ? value / 3 : value))),
    }
    const held = makePlate(lazy, map, { shape: 'hand' }, 2)
    expect(held.values[2]![0]!).toBeLessThan(lazy.values[2]![0]! + 1)
    expect(held.cautions.join(' ')).toContain('would be steeper than now')
    expect(makePlate(lazy, map, { shape: 'hand' }, 2, 'it was lazy').values[2]![0]).toBe(20)
  })
  it('follow the opening where torque was not measured, and say so', () => {
    const made = makePlate(now, null, { shape: 'torque straight' }, 2, 'a test')
    expect(made.cautions.join(' ')).toContain('No torque by plate')
    expect(made.values[4]![0]).toBeCloseTo(2 + 0.5 * 98, 6)
  })
  it('ask for a share of torque by their shape', () => {
    expect(shareAsked({ shape: 'soft third' }, 100)).toBeCloseTo(1, 9)
    expect(shareAsked({ shape: 'soft third' }, 100 / 3)).toBeCloseTo(0.7 / 3, 9)
    expect(shareAsked({ shape: 'soft third' }, 10)).toBeLessThan(0.1)
    expect(shareAsked({ shape: 'share', share: 0.8 }, 50)).toBeCloseTo(0.4, 9)
    expect(shareAsked({ shape: 'own', curve: [[0, 0], [50, 20], [100, 100]] }, 75)).toBeCloseTo(0.6, 9) // oxfmt-ignore
  })
})

describe('a hand, a plate and what is missing', () => {
  it('has no map without the one or the other, and says which', () => {
    const bare = testRun(8, (t) => ({ ...steady, throttle: ramp(t, 2, 2.2, 10, 50) }))
    expect(gripMap([bare])).toBeNull()
    expect(respond([bare]).notes.join(' ')).toContain('No grip channel')
    const { throttle: grip, ...rest } = bare
    expect(respond([{ ...rest, grip: grip! }]).notes.join(' ')).toContain('Grip without plate')
  })
  it('flags a plate that moves while the hand is still', () => {
    const runs = [5, 15, 30, 60, 100].map((hand) => ({
      ...testRun(12, (t) => ({ ...steady, rpm: 2500 + 400 * t, throttle: hand * (1 - 0.02 * t) }), `hand ${hand}`),
      grip: new Float32Array(601).fill(hand),
    }))
    expect(gripMap(runs)!.flags.map((one) => one.what)).toContain('moves by itself')
  })
})

describe('loop exits in a fuel table', () => {
  const table: Table = {
    kind: 'fuel base',
    composition: 'multiply',
    loadAxis: 'throttle',
    rpm: [4000, 4500, 5000, 5500, 6000],
    load: [5, 40],
    values: [
      [10, 10, 10, 10, 10],
      [20, 20, 20, 20, 20],
    ],
  }
  const exit = {
    load: 6,
    rpm: 4500,
    rpmError: 20,
    stepPct: -5,
    stepError: 0.3,
    widthRpm: 0,
    torquePct: 2,
  } satisfies LoopExit
  it('are tapered to 2 % per 500 rpm: the mixture of each cell says so', () => {
    const [low, high] = taperExits(table, [exit])
    const lambdas = low!.map((node) => (0.95 * node.before) / node.after)
    expect(low![0]!.after).toBe(10)
    expect(lambdas[1]).toBeCloseTo(1, 2)
    expect(lambdas[2]).toBeCloseTo(0.98, 2)
    expect(lambdas[3]).toBeCloseTo(0.96, 2)
    expect(low![4]!.after).toBe(10)
    expect(high!.every((node) => node.after === node.before)).toBe(true)
    expect(exitWords(exit)).toMatch(/5.0 % richer at once.*Taper the first open cells/)
    expect(exitWords({ ...exit, stepPct: 1 })).toContain('leave it')
  })
  it('are not tapered in a table by pressure, nor in one of spark', () => {
    expect(() => taperExits({ ...table, loadAxis: 'manifold' }, [exit])).toThrow(RangeError)
    expect(() => taperExits({ ...table, kind: 'spark base' }, [exit])).toThrow(RangeError)
    expect(() => accelerationChange(table, [])).toThrow(RangeError)
  })
})

it('torque by the mixture is most a little rich and falls faster to the lean side (common practice)', () => {
  expect(torqueAtMixture(0.87)).toBe(1)
  expect(torqueAtMixture(1)).toBeGreaterThan(0.95)
  expect(torqueAtMixture(1.1)).toBeLessThan(torqueAtMixture(0.64))
})

describe('the plan of roll-ons', () => {
  it('begins with small openings where a rider complains, and ticks off what logs hold', () => {
    const run = testRun(8, (t) => ({ ...steady, throttle: ramp(t, 2, 2.2, 5, 40) }))
    const { groups } = respond([run])
    const plan = rollOnPlan([run], groups, [], [4000], 9000)
    expect(plan[0]).toMatchObject({ rpm: 4000, fromLoad: 3, toLoad: 15, done: 0, why: 'the rider complains here' })
    expect(plan.find((one) => one.toLoad === 40)).toMatchObject({ done: 1, wanted: 3 })
    expect(rollOnPlan([], [], [], [], 9000).map((one) => one.why)).toContain('a usual start')
  })
})

describe('runs as they come', () => {
  const wild = (k: number): RunColumns => {
    const base = testRun(6, (t) => ({
      ...steady,
      rpm: 2000 + 500 * t,
      throttle: ramp(t, 2, 2.2, 5, 60),
      torque: 10 + t,
    }))
    const holed = (values: Float32Array, every: number): Float32Array =>
      values.map((value, i) => (i % every === k % every ? NaN : value))
    return {
      ...base,
      id: `wild ${k}`,
      ...(k % 2 && { lambda: [holed(base.lambda[0]!, 3)] }),
      ...(k % 3 === 0 && { throttle: holed(base.throttle!, 5) }),
      ...(k % 4 === 0 && { rpm: holed(base.rpm, 7) }),
      ...(k % 5 === 0 && { time: base.time.map((t, i) => (i > 200 ? t - 3 : t)) }),
      ...(k % 7 === 0 && { grip: holed(base.throttle!, 4) }),
      ...(k % 8 === 0 && { torque: holed(base.torque!, 2) }),
    }
  }
  const few: RunColumns = {
    id: 'few',
    time: Float32Array.of(0),
    rpm: Float32Array.of(3000),
    throttle: Float32Array.of(10),
    lambda: [],
  }

  it('with holes, backward times, one row or no mixture never break it, and no figure is NaN', () => {
    for (const runs of [
      [few],
      [{ ...few, lambda: [Float32Array.of(NaN)] }],
      ...Array.from({ length: 30 }, (_, k) => [wild(k)]),
    ]) {
      const answer = responseAnswer(respond(runs))
      const text = JSON.stringify(answer, (_key, value: unknown) =>
        typeof value === 'number' && !Number.isFinite(value) ? 'NOT FINITE' : value,
      )
      expect(text).not.toContain('NOT FINITE')
    }
  })
  it('without a mixture still tell that the throttle opened', () => {
    const run = { ...testRun(8, (t) => ({ ...steady, throttle: ramp(t, 2, 2.2, 10, 50) })), lambda: [] }
    expect(responseAnswer(respond([run])).rollOns).toMatchObject([{ bounded: true, leanPct: 0, settleS: null }])
  })
})
