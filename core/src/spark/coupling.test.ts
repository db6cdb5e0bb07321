import { fuelMoved, sparkMoved, type TableHistory } from '../change/history'
import { build, type Table, type TableKind } from '../table/table'
import { rechecks, staleMixture, staleSpark, type MadeRun } from './coupling'

const GRID = { loadAxis: 'throttle' as const, rpm: [2000, 4000, 6000, 8000], load: [0, 20, 60, 100] }
const T = (minute: number): string => `2026-03-02T10:${String(minute).padStart(2, '0')}:00.000Z`
const table = (kind: TableKind, of: (rpm: number, load: number) => number): Table => ({
  ...GRID,
  kind,
  composition: 'multiply',
  values: build(GRID, (row, column) => of(GRID.rpm[column]!, GRID.load[row]!)),
})
function history(
  kind: TableKind,
  ...states: [minute: number, of: (rpm: number, load: number) => number][]
): TableHistory {
  return {
    id: kind,
    name: kind,
    cylinder: null,
    states: states.map(([minute, of], k) => ({ n: k + 1, at: T(minute), table: table(kind, of) })),
  }
}
const fuel = history('fuel base', [0, () => 100], [10, (rpm) => (rpm === 6000 ? 105 : 100)])

describe('how far tables moved since a time', () => {
  it('fuel in percent, by interpolation between nodes', () => {
    expect(fuelMoved([fuel], T(5), 6000, 60)).toBeCloseTo(5, 9)
    expect(fuelMoved([fuel], T(5), 5000, 60)).toBeCloseTo(2.5, 9)
    expect(fuelMoved([fuel], T(11), 6000, 60)).toBe(0)
  })
  it('a base table and a trim multiply; of cylinders with tables of their own the one moved furthest counts', () => {
    const trim = (cylinder: number, percent: number): TableHistory => ({
      ...history('fuel trim', [0, () => 0], [12, () => percent]),
      cylinder,
    })
    expect(fuelMoved([fuel, trim(1, 2), trim(2, -8)], T(5), 6000, 60)).toBeCloseTo(1.05 * 1.02 * 100 - 100, 9)
    expect(fuelMoved([fuel, trim(1, 2), trim(2, -8)], T(5), 2000, 60)).toBeCloseTo(-8, 9)
  })
  it('spark base and trim add up; a table that came later has not moved', () => {
    const base = history('spark base', [0, () => 24], [10, () => 26])
    const trim = history('spark trim', [20, () => 1])
    expect(sparkMoved([base, trim, fuel], T(5), 4000, 100)).toBe(2)
    const own = (cylinder: number, degrees: number): TableHistory => ({
      ...history('spark trim', [0, () => 0], [12, () => degrees]),
      cylinder,
    })
    // Not the sum over cylinders: each is fired once.
    expect(sparkMoved([base, own(1, 1), own(2, 1.5)], T(5), 4000, 100)).toBe(3.5)
  })
  it('where rows are manifold pressure, the largest move in the column counts', () => {
    const one = history('fuel base', [0, () => 100], [10, (_, load) => (load === 60 ? 110 : 100)])
    for (const state of one.states) state.table = { ...state.table, loadAxis: 'manifold' }
    expect(fuelMoved([one], T(5), 4000, 100)).toBeCloseTo(10, 9)
  })
})

describe('what a move makes stale', () => {
  it('more than 3 % of fuel at load: spark results from before it, there and nowhere else', () => {
    expect(staleSpark([fuel], 6000, 60)).toMatchObject({ before: T(10), moved: expect.closeTo(5, 6) as number })
    expect(staleSpark([fuel], 4000, 60)).toBeNull()
    expect(staleSpark([fuel], 6000, 10)).toBeNull()
    expect(staleSpark([history('fuel base', [0, () => 100], [10, () => 102.9])], 6000, 60)).toBeNull()
  })
  it('small moves add up, and a move that was taken back makes nothing stale', () => {
    const steps = history('fuel base', [0, () => 100], [10, () => 102], [20, () => 104])
    expect(staleSpark([steps], 4000, 60)).toMatchObject({ before: T(10) })
    const back = history('fuel base', [0, () => 100], [10, () => 110], [20, () => 100])
    // Measured between the two, it is.
    expect(staleSpark([back], 4000, 60)).toMatchObject({ before: T(20) })
  })
  it('more than 2 degrees of spark: the mixture', () => {
    const spark = history('spark base', [0, () => 24], [10, (rpm) => (rpm >= 6000 ? 27 : 25)])
    expect(staleMixture([spark], 6000, 100)).toMatchObject({ before: T(10), moved: 3 })
    expect(staleMixture([spark], 4000, 100)).toBeNull()
  })
})

describe('what has to be measured again', () => {
  const run = (over: Partial<MadeRun>): MadeRun => ({
    kind: 'spark step',
    stop: 60,
    fromRpm: 6000,
    toRpm: 6000,
    at: T(5),
    tellsMixture: true,
    ...over,
  })
  it('spark steps where fuel moved, until they were made anew', () => {
    const runs = [run({}), run({ fromRpm: 4000, toRpm: 4000 })]
    expect(rechecks([fuel], runs)).toEqual([
      { what: 'spark', stop: 60, fromRpm: 6000, toRpm: 6000, moved: expect.closeTo(5, 6) as number, since: T(10) },
    ])
    expect(rechecks([fuel], [...runs, run({ at: T(15) })])).toEqual([])
  })
  it('sweeps over the span in which spark moved', () => {
    const spark = history('spark base', [0, () => 24], [10, (rpm) => (rpm === 6000 ? 28 : 24)])
    const [one, ...others] = rechecks([spark], [run({ kind: 'sweep', fromRpm: 2000, toRpm: 8000 }), run({})])
    expect(others).toEqual([])
    expect(one).toMatchObject({ what: 'mixture', stop: 60, moved: 4, since: T(10) })
    expect(one!.fromRpm).toBeGreaterThan(4500)
    expect(one!.toRpm).toBeLessThan(7500)
  })
})
