import { condition } from '../field/solve/conditioned'
import { USUAL_SCALES } from '../field/solve/learnScales'
import { priorPrecision } from '../field/solve/prior'
import { addAt, banded, cholesky } from '../numbers/banded'
import { diagonal, logDeterminant, selectedInverse } from '../numbers/selectedInverse'
import type { LoadGrid } from '../table/table'
import { candidates } from './candidates'
import { DEFAULT_PACE } from './choice'
import { mostWanting, nextRun } from './nextRun'
import { unknownField, type RangeField } from './rangeField'
import type { Wanted } from './wanted'

const grid: LoadGrid = {
  loadAxis: 'throttle',
  rpm: Array.from({ length: 15 }, (_, k) => 2000 + 500 * k),
  load: [0, 5, 10, 20, 40, 60, 80, 100],
}
const WANTED: Wanted = { rpm: [2500, 8500], load: [10, 100], typicalPct: 1, worstPct: 3 }
const ask = (over: Partial<Wanted> = {}, known = unknownField(grid)) =>
  nextRun(grid, known, { ...WANTED, ...over }, DEFAULT_PACE)

/** Every node read once, to a thousandth or less surely, with so much left of it by row. */
function surelyKnown(left: (load: number) => number, error = 0.001): RangeField {
  const precision = priorPrecision(grid, USUAL_SCALES)
  const { size, width } = precision
  const normal = banded(size, width)
  for (let k = 0; k < size; k++) addAt(normal, k, k, 1)
  const sums = { normal, right: new Float64Array(size), square: 0, weight: size, stretches: [] }
  const prior = { precision, logDeterminant: logDeterminant(cholesky(precision)) }
  const conditioned = condition(sums, prior, { reading: error ** 2, level: 1 })
  const owed = Float64Array.from({ length: size }, (_, k) => left(grid.load[k % grid.load.length]!))
  const deviation = diagonal(selectedInverse(conditioned.factor)).map(Math.sqrt)
  const known = { conditioned, deviation }
  return { ...unknownField(grid), ...known, present: known, left: owed, leftByLimits: owed }
}

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
  it('a hold that was made wanders about its speed, and counts all the same', () => {
    const first = ask({ load: [80, 100], rpm: [2500, 3000] }).next!
    const hold = { kind: 'hold', load: 80, fromRpm: 2550, toRpm: 2550 } as const
    const wandered = { ...unknownField(grid), made: Array.from({ length: 3 }, () => ({ ...hold, toRpm: 2561 })) }
    expect(first).toMatchObject({ kind: 'hold', load: 80 })
    expect(ask({ load: [80, 100], rpm: [2500, 3000] }, wandered).next).not.toMatchObject({ load: 80, fromRpm: 2550 })
  })
  it('is none where all is known but no pass may go so far: the change is taken, and measured again', () => {
    const known = { ...surelyKnown(() => 0), leftByLimits: surelyKnown(() => -0.04).left }
    const { enough, next, why, typicalPct, afterLimits } = ask({}, known)
    expect([enough, next]).toEqual([true, null])
    expect(typicalPct).toBeLessThan(0.2)
    expect(afterLimits!.typicalPct).toBeCloseTo(4, 1)
    expect(why).toMatch(/no further than its limits: until it is measured again, typically 4\.0 %/)
    // What they leave is no more than was wanted.
    expect(ask({ typicalPct: 5, worstPct: 6 }, known).afterLimits).toBeNull()
  })
  it.each([
    [40, [20, 60]],
    [100, [80, 100]],
  ])(
    'goes where much is known to be left, once the runs on the present tables are to tell: %i %%',
    (row, [from, to]) => {
      const known = surelyKnown((load) => (load === row ? -0.05 : 0))
      // Nearly all runs were made before the last correction: what they told makes no change now.
      const present = surelyKnown(() => 0, 0.2)
      const { enough, next } = ask({ typicalPct: 0.5 }, { ...known, present })
      expect(enough).toBe(false)
      expect([next!.kind, next!.load >= from!, next!.load <= to!]).toEqual(['sweep', true, true])
      expect(ask({ typicalPct: 5, worstPct: 6 }, { ...known, present }).enough).toBe(true)
    },
  )
  it('once only the worst are not good enough, goes to those', () => {
    const known = surelyKnown((load) => (load === 80 ? -0.06 : 0))
    const { next, typicalPct } = ask({ typicalPct: 4, worstPct: 3 }, { ...known, present: surelyKnown(() => 0, 0.2) })
    expect(typicalPct).toBeLessThan(4)
    expect(Math.abs(next!.load - 80)).toBeLessThanOrEqual(20)
  })
  it('is none where the same runs were made over and over and told no more', () => {
    const made = candidates(grid, WANTED, DEFAULT_PACE).flatMap((one) => [one, one, one, one])
    const { enough, next, ranked, why } = ask({}, { ...unknownField(grid), made })
    expect([enough, next, ranked]).toEqual([false, null, []])
    expect(why).toMatch(/No run tells more/)
  })
  it('points beside a held node hang on what no run tells, and do not count', () => {
    const known = surelyKnown((load) => (load === 10 ? -0.05 : 0))
    const zone = { row: 3, load: 20, fromRpm: 0, toRpm: 20_000 }
    const range = { load: [12, 38], typicalPct: 1, worstPct: 3 } as const
    expect(ask(range, known).enough).toBe(false)
    expect(ask(range, { ...known, heldZones: [zone] }).enough).toBe(true)
  })
  it('of several cylinders goes by the one that wants most, though another is typically known less', () => {
    const one = ask(
      {},
      surelyKnown(() => 0),
    )
    const [worst, limited] = [
      { ...one, enough: false, typicalPct: 0.3, worstPct: 4 },
      { ...one, typicalPct: 0.2, afterLimits: { typicalPct: 2, worstPct: 3 } },
    ]
    const least = { ...one, typicalPct: 0.9 }
    expect(mostWanting([least, worst, limited])).toBe(worst)
    expect(mostWanting([least, limited, one])).toBe(limited)
    expect(mostWanting([one, least])).toBe(least)
  })
  it('names what small openings are not held to reach, and counts it once a run was there', () => {
    const small = { load: [5, 20], rpm: [2500, 8500] } as const
    const { leftOut } = ask(small)
    expect(leftOut).toMatch(/^Not counted: \d+ % of the range asked for, openings up to \d+ % from \d.\d00 rpm up/)
    const known = surelyKnown(() => 0)
    expect(ask(small, known).enough).toBe(true)
    const there = { kind: 'sweep', load: 5, fromRpm: 2500, toRpm: 8480 } as const
    expect(ask(small, { ...known, ever: [there] }).leftOut).toBeNull()
    // Nothing is left where it does not count; where it does, it is not enough.
    const owed = surelyKnown((load) => (load === 5 ? -0.07 : 0))
    expect(ask({ ...small, rpm: [7000, 8500], load: [5, 9] }, { ...owed, ever: [there] }).enough).toBe(false)
    expect(ask({ load: [40, 100] }).leftOut).toBeNull()
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
  it('by manifold pressure nothing counts that no stop reaches: a shut plate at high speed, the air outside behind a small one', () => {
    const byPressure: LoadGrid = { loadAxis: 'manifold', rpm: grid.rpm, load: [10, 20, 40, 60, 80, 100, 140] }
    const ask = (load: [number, number], rpm: [number, number]) =>
      nextRun(byPressure, unknownField(byPressure), { ...WANTED, load, rpm }, DEFAULT_PACE)
    expect(ask([20, 90], [2500, 8500]).enough).toBe(false)
    expect(() => ask([10, 20], [7000, 8500])).toThrow('does not reach')
    expect(() => ask([120, 140], [2500, 8500])).toThrow('does not reach')
  })
})
