import { interpolate } from '../table/lookup'
import { seededRandom } from '../numbers/random'
import type { Matrix } from '../table/table'
import { answerWay } from './answerWay'
import { onTop } from './onTop'
import { fitBands, givenByBands } from './bands'
import { checkSettings } from './checkSettings'
import { checkWay } from './checkWay'
import { fitCoarse } from './coarse'
import { fitTable, givenByTable } from './fitTable'
import { fitGlobal } from './global'
import { judgeWay } from './judgeWay'
import { givenAt, leftOf } from './left'
import { oneFactor } from './oneFactor'
import { cylinderTrims } from './perCylinder'
import { pointsOf } from './points'
import { tableOfWay } from './tableOfWay'
import { typedSettings } from './typedSettings'
import type { Wanted } from './wanted'
import { waySheet } from './waySheet'
import type { WayAsked } from './ways'

const rpm = [1500, 2500, 3500, 4500, 5500, 6500, 7500, 8500, 9500]
const load = [5, 10, 20, 40, 60, 80, 100]
/** A change as engines ask for: waves over speed that grow with the opening, of a seed of its own. */
function waves(seed: number, over: Partial<Wanted> = {}): Wanted {
  const { uniform } = seededRandom(seed)
  const [a, b, c, phase] = [2 + 4 * uniform(), 900 + 1200 * uniform(), -3 + 6 * uniform(), 6 * uniform()]
  const pct = load.map((y) => rpm.map((x) => a * Math.sin(x / b + phase) * (0.4 + y / 160) + (c * y) / 100))
  return { rpm, load, loadAxis: 'throttle', pct, weight: load.map(() => rpm.map(() => 1)), ...over }
}
const costOf = (wanted: Wanted, given: (rpm: number, load: number) => number): number => {
  const points = pointsOf(wanted)
  return leftOf(points, givenAt(points, given)).costPct
}

describe('places that ways are judged at', () => {
  it('are the cells and fifteen between each four, those that anything unknown tells of left out', () => {
    const wanted = {
      ...waves(1),
      rpm: [1000, 2000],
      load: [0, 100],
      pct: [
        [1, 2],
        [3, 4],
      ],
      weight: [
        [1, 1],
        [1, 1],
      ],
    }
    expect(pointsOf(wanted).factor).toHaveLength(25)
    const gap = pointsOf({
      ...wanted,
      pct: [
        [1, null],
        [3, 4],
      ],
    })
    expect(gap.factor).toHaveLength(9)
    expect(Math.max(...gap.factor)).toBeCloseTo(1.04, 12)
    expect(() =>
      pointsOf({
        ...wanted,
        pct: [
          [null, null],
          [null, null],
        ],
      }),
    ).toThrow(RangeError)
  })
})

describe('one percent', () => {
  it.each([1, 2, 3])('is the least of a fine scan, with the rule for load and without it (seed %i)', (seed) => {
    const wanted = waves(seed)
    const { ruled, free } = fitGlobal(wanted)
    const highest = Math.max(
      ...wanted.pct
        .slice(5)
        .flat()
        .map((one) => one!),
    )
    const least = (1 + highest / 100) / 1.02
    const points = pointsOf(wanted)
    const scan = (from: number): number => {
      let best = { pct: 0, cost: Infinity }
      for (let f = from; f < 1.15; f += 0.0004) {
        const cost = leftOf(points, new Float64Array(points.factor.length).fill(f)).costPct
        if (cost < best.cost) best = { pct: 100 * (f - 1), cost }
      }
      return best.pct
    }
    expect(free.pct).toBeCloseTo(scan(0.85), 1)
    expect(ruled.pct).toBeCloseTo(scan(least), 1)
    expect(1 + ruled.pct / 100).toBeGreaterThanOrEqual(least - 1e-12)
  })
  it('says so where the rule makes it worse than nothing', () => {
    const wanted = waves(1)
    const peak = {
      ...wanted,
      pct: wanted.pct.map((cells, row) => cells.map((_, k) => (row === 6 && k === 4 ? 12 : 0))),
    }
    const { cautions, left, free } = answerWay(peak, { kind: 'global' })
    expect(cautions.map((one) => one.code)).toEqual(expect.arrayContaining(['worse than nothing', 'rule costs']))
    expect(left.worstLean.pct).toBeCloseTo(2, 9)
    expect(free!.left.costPct).toBeLessThan(left.costPct)
  })
  it('of places without any is nothing', () =>
    expect(oneFactor({ factor: [], weight: [], lean: [] })).toEqual({ factor: 1, cost: 0 }))
})

describe('bands', () => {
  it('without a crossover, edges free, are the least over every pair of edges', () => {
    const wanted = waves(4)
    const { ruled } = fitBands(wanted, { axis: 'rpm', bands: 3 })
    const own = costOf(wanted, givenByBands(ruled))
    for (let low = 1700; low < 9400; low += 250)
      for (let high = low + 250; high < 9500; high += 250) {
        const { ruled: tried } = fitBands(wanted, { axis: 'rpm', bands: 3, edges: [low, high] })
        expect(own).toBeLessThanOrEqual(costOf(wanted, givenByBands(tried)) * 1.0005)
      }
  })
  it.each(['rpm', 'load'] as const)('leave no cell under load more than 2 %% lean, by %s', (axis) => {
    for (let seed = 1; seed <= 6; seed++) {
      const wanted = waves(seed)
      const { ruled } = fitBands(wanted, { axis, bands: 3, crossover: axis === 'rpm' ? 700 : 12 })
      const given = givenByBands(ruled)
      wanted.pct.forEach((cells, row) =>
        cells.forEach((pct, k) => {
          if (load[row]! >= 70) expect((1 + pct! / 100) / given(rpm[k]!, load[row]!) - 1).toBeLessThan(0.02 + 1e-9)
        }),
      )
    }
  })
  it('beside a table take what most cells want, and leave it the rest', () => {
    const wanted = waves(1)
    const steps = {
      ...wanted,
      pct: wanted.pct.map((cells, row) => cells.map((_, k) => (k < 4 ? 2 : 7) + (row === 3 && k === 6 ? 5 : 0))),
    }
    const table = { ...steps, kind: 'fuel trim' as const, composition: 'multiply' as const, values: steps.pct }
    const told = answerWay(steps, { kind: 'bands', axis: 'rpm', bands: 2, table })
    const { values, table: beside } = told.settings as unknown as { values: number[]; table: { cells: number } }
    expect(values.map((one) => Math.round(one))).toEqual([2, 7])
    expect(beside.cells).toBe(1)
    expect(told.left.within2Pct).toBeGreaterThan(90)
  })
})

describe('a coarse table', () => {
  it('finds a surface of its own kind again, places and all', () => {
    const [speeds, openings] = [
      [1500, 3500, 4500, 6500, 8500, 9500],
      [5, 10, 20, 40, 80, 100],
    ]
    const { uniform } = seededRandom(5)
    const values: Matrix = openings.map(() => speeds.map(() => 12 * uniform() - 4))
    const pct = load.map((y) => rpm.map((x) => interpolate({ rpm: speeds, load: openings }, values, x, y)))
    const { table } = fitCoarse(waves(1, { pct }), { rpmPoints: 6, loadPoints: 6 })
    expect(table.rpm).toEqual(speeds)
    expect(table.load).toEqual(openings)
    expect(costOf(waves(1, { pct }), givenByTable(table))).toBeLessThan(0.001)
  })
  it('with its places chosen leaves a quarter less than with places put evenly', () => {
    for (let seed = 1; seed <= 3; seed++) {
      const { uniform } = seededRandom(seed)
      const [at, wide, high] = [3000 + 4500 * uniform(), 500 + 300 * uniform(), 5 + 4 * uniform()]
      const hump = (x: number, y: number): number => high * Math.exp(-(((x - at) / wide) ** 2)) * (y > 40 ? 1 : y / 40)
      const wanted = waves(seed, { pct: load.map((y) => rpm.map((x) => hump(x, y))) })
      const own = fitCoarse(wanted, { rpmPoints: 5, loadPoints: 3 }).table
      const even = fitTable(pointsOf(wanted), { rpm: [1500, 3500, 5500, 7500, 9500], load: [5, 50, 100] })
      expect(own.cost).toBeLessThan(even.cost * 0.75 ** 2)
    }
  })
  it('is the same for the same input, and tells what one more point and one fewer would leave', () => {
    const wanted = waves(2)
    const asked = { rpmPoints: 4, loadPoints: 3 }
    const { table, points } = fitCoarse(wanted, asked)
    expect(fitCoarse(wanted, asked).table).toEqual(table)
    const own = costOf(wanted, givenByTable(table))
    for (const one of points.more) expect(one.costPct).toBeLessThan(own * 1.0001)
    expect(points.least!.costPct).toBeGreaterThan(own)
    expect(table[points.least!.axis]).toContain(points.least!.at)
  })
  it('goes on flat into what nobody read, and never leaner there than now', () => {
    const whole = waves(3)
    // Nothing is known of the small openings but in the middle; it falls steeply toward them.
    const pct = whole.pct.map((_, row) => rpm.map((__, k) => (row < 2 && k !== 4 ? null : -10 + 3 * row)))
    const { table } = fitCoarse({ ...whole, pct }, { rpmPoints: 4, loadPoints: 4 })
    expect(Math.min(...table.values.flat())).toBeGreaterThan(-11)
    const unread = whole.pct.map((_, row) => rpm.map(() => (row > 3 ? null : -5)))
    const { cautions } = judgeWay({ ...whole, pct: unread }, { kind: 'global' }, { settings: { pct: -5 } })
    expect(cautions).toContainEqual({
      code: 'leaned unread',
      worst: { pct: expect.closeTo(-5, 6), rpm: 1500, load: 80 },
    })
  })
})

describe('ways that stand already', () => {
  it('come out whole: what stands times what is wanted', () => {
    const wanted = waves(1)
    const standing = { pct: 4 }
    const told = answerWay(wanted, { kind: 'global', standing })
    const { free } = fitGlobal(wanted)
    expect((told.free!.settings as { pct: number }).pct).toBeCloseTo((1 + free.pct / 100) * 104 - 100, 6)
    expect(told.left.rmsPct).toBeCloseTo(answerWay(wanted, { kind: 'global' }).left.rmsPct, 6)
    expect(onTop(wanted, null)).toBe(wanted)
  })
})

describe('cylinders', () => {
  it('with a shared table and offsets are off by what is their own alone; the shared one bends less where that is noise', () => {
    const { normal } = seededRandom(8)
    const common = waves(6)
    const own = (percent: number): Wanted => ({
      ...common,
      pct: common.pct.map((cells) => cells.map((one) => (1 + one! / 100) * (100 + percent + 0.5 * normal()) - 100)),
    })
    const { offsets, leftPct, bendPct } = cylinderTrims([own(2), own(-3)])!
    // Of two offsets the mean is the shared table's.
    expect(offsets[0]! - offsets[1]!).toBeCloseTo(5, 0)
    expect(Math.max(...leftPct)).toBeLessThan(0.5)
    expect(bendPct.shared).toBeLessThan(bendPct.own)
    const unknown = common.pct.map((cells) => cells.map(() => null))
    expect(cylinderTrims([common, { ...common, pct: unknown }])).toBeNull()
  })
})

describe('numbers of a way', () => {
  it('are typed in tenths, those under a rule rounded up, and become a table and a sheet', () => {
    expect(typedSettings('global', { pct: 6.81 })).toEqual({ pct: 6.9 })
    expect(typedSettings('global', { pct: -1.27 })).toEqual({ pct: -1.2 })
    expect(typedSettings('pressure', { kPa: 312.2 })).toEqual({ kPa: 313 })
    const bands = { axis: 'rpm' as const, edges: [5000], values: [2, 4], crossover: 0 }
    const asked = { kind: 'bands' as const, axis: 'rpm' as const, bands: 2 }
    const table = tableOfWay({ rpm, load, loadAxis: 'throttle' }, asked, bands)
    expect(table.values[0]).toEqual([2, 2, 2, 2, 4, 4, 4, 4, 4])
    expect(waySheet({ asked, settings: bands })).toBe(
      'what,rpm,load,value,unit\nband 1,,,2,%\nband 2,,,4,%\nedge 1,5000,,5000,rpm\ncrossover,,,0,rpm\n',
    )
  })
  it('that do not fit are refused', () => {
    const refusal = (way: WayAsked, settings: object) => () => checkSettings(way, settings as never, 'way.settings')
    const asked = { kind: 'bands' as const, axis: 'rpm' as const, bands: 2 }
    expect(refusal(asked, { axis: 'rpm', edges: [5000], values: [1], crossover: 0 })).toThrow(/1 values for 1 edges/)
    expect(refusal(asked, { axis: 'rpm', edges: [5000], values: [1, 140], crossover: 0 })).toThrow(/140 %/)
    expect(
      refusal({ kind: 'strips', threshold: 20, rpm: [1, 2] }, { threshold: 20, rpm: [1, 2], low: [1], high: [1, 2] }),
    ).toThrow(/2 values/)
    expect(refusal({ kind: 'pressure', kPa: 300, manifoldKpa: 100 }, { kPa: 90 })).toThrow(/above the manifold/)
  })
})

describe('what keeps a way from being worked out', () => {
  const faults = (way: WayAsked) => () => checkWay(waves(1), way, 'ways[0]')
  it('is said with its place', () => {
    expect(faults({ kind: 'coarse', rpmPoints: 2, loadPoints: 2, rpm: [2000, 2000] })).toThrow(/rpm breakpoint 2/)
    expect(faults({ kind: 'bands', axis: 'load', bands: 3, edges: [40, 45], crossover: 10 })).toThrow(
      /closer to 40 than their crossover/,
    )
    expect(faults({ kind: 'bands', axis: 'rpm', bands: 5, crossover: 3000 })).toThrow(/too wide/)
    expect(faults({ kind: 'strips', threshold: 101, rpm: [2000, 3000] })).toThrow(/never be used/)
    const table = {
      ...waves(1),
      kind: 'spark base' as const,
      composition: 'add' as const,
      values: waves(1).pct as Matrix,
    }
    expect(faults({ kind: 'global', table })).toThrow(/only fuel tables/)
  })
})
