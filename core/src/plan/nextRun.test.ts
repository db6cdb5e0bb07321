import type { LoadGrid } from '../table/table'
import { DEFAULT_PACE } from './choice'
import { nextRun, unknownField, type Wanted } from './nextRun'

const grid: LoadGrid = {
  loadAxis: 'throttle',
  rpm: Array.from({ length: 15 }, (_, k) => 2000 + 500 * k),
  load: [0, 5, 10, 20, 40, 60, 80, 100],
}
const WANTED: Wanted = { rpm: [2500, 8500], load: [10, 100], typicalPct: 1, worstPct: 3 }
const ask = (over: Partial<Wanted> = {}, known = unknownField(grid)) =>
  nextRun(grid, known, { ...WANTED, ...over }, DEFAULT_PACE)

describe('the next run', () => {
  it('where nothing is known is a long sweep within the range, and far from enough', () => {
    const { enough, next, typicalPct, worstPct, why } = ask()
    expect(enough).toBe(false)
    expect(next).toMatchObject({ kind: 'sweep' })
    expect(Math.abs(next!.toRpm - next!.fromRpm)).toBeGreaterThan(4000)
    expect([next!.load >= 10, next!.load <= 100]).toEqual([true, true])
    expect(worstPct).toBeGreaterThan(typicalPct)
    expect(why).toMatch(/typically \d+\.\d %, at worst \d+\.\d %/)
  })
  it('heads the most helpful runs, told in cells: how many, how wide now and after', () => {
    const { next, ranked } = ask()
    expect(ranked).toHaveLength(5)
    expect(ranked[0]).toMatchObject({
      kind: next!.kind,
      load: next!.load,
      fromRpm: next!.fromRpm,
      minutes: next!.minutes,
    })
    for (const one of ranked) {
      expect(one.nodes).toBeGreaterThan(0)
      expect(one.unknown).toBe(one.nodes)
      expect(one.halfAfter).toBeLessThan(one.halfNow)
      expect(one.rpm === null).toBe(one.kind === 'sweep')
    }
    expect(ask({ typicalPct: 50, worstPct: 90 }).ranked).toEqual([])
  })
  it('is none where what is expected lies within what is wanted', () => {
    const { enough, next, why } = ask({ typicalPct: 50, worstPct: 90 })
    expect([enough, next]).toEqual([true, null])
    expect(why).toMatch(/within what is wanted/)
  })
  it('stays within the range asked for, and never sweeps down at large openings', () => {
    for (const load of [
      [20, 40],
      [80, 100],
    ] as const) {
      const { next } = ask({ load, rpm: [4000, 7000] })
      expect([next!.load >= load[0], next!.load <= load[1]]).toEqual([true, true])
      expect(Math.min(next!.fromRpm, next!.toRpm)).toBeGreaterThanOrEqual(4000)
      expect(Math.max(next!.fromRpm, next!.toRpm)).toBeLessThanOrEqual(7000)
      if (load[0] === 80 && next!.kind === 'sweep') expect(next!.toRpm).toBeGreaterThan(next!.fromRpm)
    }
  })
  it('what was made before is asked for less', () => {
    const first = ask().next!
    const known = { ...unknownField(grid), made: Array.from({ length: 30 }, () => first) }
    expect(ask({}, known).next).not.toEqual(first)
  })
  it('a range that a loop holds whole asks for nothing', () => {
    const heldZones = grid.load.map((load, row) => ({ row, load, fromRpm: 0, toRpm: 20_000 }))
    expect(ask({}, { ...unknownField(grid), heldZones })).toMatchObject({ enough: true, next: null })
  })
  it('a range that the table does not reach is refused, not called flat', () => {
    expect(() => ask({ rpm: [12_000, 14_000] })).toThrow('does not reach')
  })
  it('by manifold pressure is told as a throttle stop', () => {
    const byPressure: LoadGrid = { loadAxis: 'manifold', rpm: grid.rpm, load: [20, 40, 60, 80, 100] }
    const { next } = nextRun(byPressure, unknownField(byPressure), { ...WANTED, load: [35, 100] }, DEFAULT_PACE)
    // At a large opening all speeds lie near the air outside: a smaller one sees more of such a table.
    expect(next!.load).toBeLessThan(60)
  })
})
