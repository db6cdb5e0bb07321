import { READ_AT as AT, steppedBin } from '../../trials/steppedBin'
import { build, type Table } from '../table/table'
import { seededRandom } from '../numbers/random'
import type { MeasuredPoint, SparkBin } from './bin'
import { judgeBin, type JudgedBin } from './judge'
import { DEFAULT_SPARK } from './fitAdvance'
import { oneKnob, RANGE_USES } from './oneKnob'
import { suggestSpark } from './suggestSpark'
import { DEFAULT_SPARK_LIMITS } from './sparkChange'

const TABLE: Table = {
  loadAxis: 'throttle',
  rpm: [2000, 4000, 6000, 8000],
  load: [20, 60, 100],
  kind: 'spark base',
  composition: 'add',
  values: [20, 20, 20].map((value) => [value, value, value, value]),
}

/** A bin measured at five settings about what is there now; torque is best at `best`. */
function bin(over: Partial<SparkBin> & { best: number; knocksFrom?: number }): SparkBin {
  const { best, knocksFrom = Infinity, ...rest } = over
  const random = seededRandom(best)
  const present = rest.present ?? 20
  const points = [0, -6, -3, 3, 6, 0].flatMap((offset) =>
    [1, 2, 3].map((): MeasuredPoint => {
      const advance = present + offset
      return {
        advance,
        torque: 40 * (1 - 5.2e-4 * (advance - best) ** 2) * (1 + 0.001 * random.normal()),
        knock: advance >= knocksFrom,
        run: 'r',
        at: AT,
      }
    }),
  )
  return steppedBin({ stop: 60, rpm: 4000, points, present, ...rest })
}
const judge = (...bins: SparkBin[]): JudgedBin[] => bins.map((one) => judgeBin(one, []))

describe('suggested change of a spark table', () => {
  it('a point on a node moves that node as far as one pass may go, and tapers off beside it', () => {
    const { nodes, values } = suggestSpark(TABLE, judge(bin({ best: 26 })))
    expect(nodes[1]![1]).toMatchObject({ changeDeg: 1.5, reason: 'limited, more advance', after: 21.5 })
    // Beside it less, and nothing far away.
    expect(Math.max(...values.flat())).toBe(21.5)
    expect(nodes[1]![0]!.changeDeg).toBeLessThan(1.5)
    expect(nodes[1]![0]!.changeDeg).toBeGreaterThan(0)
    expect(nodes[1]![3]).toMatchObject({ changeDeg: 0, reason: 'no evidence', best: null })
  })
  it('cells between points follow one surface, each with a value and its interval, and the taken table has no teeth', () => {
    const wide: Table = {
      ...TABLE,
      rpm: [2000, 3100, 4000, 4700, 6000, 7300, 8000],
      values: TABLE.load.map(() => [20, 20, 20, 20, 20, 20, 20]),
    }
    const stop = TABLE.load[1]!
    const points = [
      bin({ best: 27, rpm: 2000, stop }),
      bin({ best: 22, rpm: 4700, stop }),
      bin({ best: 21, rpm: 8000, stop }),
    ]
    const far = { ...DEFAULT_SPARK_LIMITS, more: 10, less: 10 }
    const { nodes } = suggestSpark(wide, judge(...points), far)
    const row = nodes[1]!
    expect(row[1]!.reason).toMatch(/between points|kept near its neighbours/)
    // From 27° to 22° over 2,700 rpm.
    expect(row[1]!.best!.value).toBeGreaterThan(23.5)
    expect(row[1]!.best!.value).toBeLessThan(27)
    for (const { best } of row) expect(best!.high - best!.low).toBeGreaterThan(0.5)
    const all = nodes.map((cells) => cells.map((node) => node.changeDeg))
    // From one cell to the next a degree at the most.
    all.forEach((cells) => cells.slice(1).forEach((one, k) => expect(Math.abs(one - cells[k]!)).toBeLessThan(1.11)))
  })
  it('no cell between goes past the knock that either side has met', () => {
    const wide: Table = { ...TABLE, rpm: [3000, 4000, 5000], values: TABLE.load.map(() => [20, 20, 20]) }
    const free = bin({ best: 27, rpm: 3000 })
    const knocks = bin({ best: 27, rpm: 5000, knocksFrom: 21 })
    const { nodes } = suggestSpark(wide, judge(free, knocks))
    expect(nodes[1]![0]!.changeDeg).toBeGreaterThanOrEqual(1)
    // Knock at 23°, two degrees kept: one is left, whatever the other side would take.
    expect(nodes[1]![1]!.changeDeg).toBeLessThanOrEqual(1)
    const near = bin({ best: 27, rpm: 5000, knocksFrom: 20 })
    expect(suggestSpark(wide, judge(free, near)).nodes[1]![1]!.changeDeg).toBeLessThanOrEqual(0)
  })
  it('less advance goes further at once, and base and trim move by the same degrees', () => {
    const less = judge(bin({ best: 11 }))
    expect(suggestSpark(TABLE, less).nodes[1]![1]).toMatchObject({ changeDeg: -4, reason: 'limited, less advance' })
    const trim: Table = { ...TABLE, kind: 'spark trim', values: build(TABLE, () => 0) }
    expect(suggestSpark(trim, less).nodes[1]![1]).toMatchObject({ before: 0, after: -4 })
  })
  it('knock seen, or nothing to see it by, allows less', () => {
    const seen = judge(bin({ best: 24, knocksFrom: 26 }))
    expect(suggestSpark(TABLE, seen).nodes[1]![1]).toMatchObject({ changeDeg: 0.5, reason: 'limited, knock was seen' })
    const blind = judge(bin({ best: 26, hasKnockChannel: false }))
    expect(suggestSpark(TABLE, blind).nodes[1]![1]).toMatchObject({ changeDeg: 1, reason: 'limited, no knock channel' })
  })
  it('between nodes a point speaks for both, and of several the one that knock limits decides', () => {
    const between = suggestSpark(TABLE, judge(bin({ best: 26, rpm: 5000 })))
    expect(between.values[1]!.slice(1, 3)).toEqual([21.5, 21.5])
    const knocking = bin({ best: 26, rpm: 5000, knocksFrom: 20 })
    const { nodes } = suggestSpark(TABLE, judge(bin({ best: 26, rpm: 4000 }), knocking))
    // At 4,000 rpm 26° were tried without knock, at 5,000 rpm it knocks at what is there: back from it there.
    expect(nodes[1]![2]!.changeDeg).toBeLessThan(0)
    expect(nodes[1]![2]!.knockFrom).toBeLessThan(22)
  })
  it('knock near a node counts, though stepping was cut short there and no curve could be fitted', () => {
    const cut = bin({ best: 26, rpm: 5000, knocksFrom: 20 })
    const short = judge({ ...cut, points: cut.points.filter((one) => one.advance === 20) })
    expect(short[0]!.fit.curve).toBeNull()
    const { nodes } = suggestSpark(TABLE, [...judge(bin({ best: 26 })), ...short])
    expect(nodes[1]![2]!.changeDeg).toBeLessThanOrEqual(0)
    expect(nodes[1]![2]!.knockFrom).toBeLessThan(22)
  })
  it('what the table was moved by since is not advised twice', () => {
    const [one] = judge(bin({ best: 24 }))
    const advised = one!.fit.recommended! - one!.bin.present
    const node = suggestSpark(TABLE, [{ ...one!, moved: advised - 0.6 }]).nodes[1]![1]!
    expect(node.changeDeg).toBeLessThanOrEqual(0.7)
    expect(suggestSpark(TABLE, [{ ...one!, moved: advised }]).nodes[1]![1]!.changeDeg).toBe(0)
  })
  it('stale points, points without advice and settings of the whole engine move nothing', () => {
    const [one] = judge(bin({ best: 26 }))
    const stale = suggestSpark(TABLE, [{ ...one!, stale: { before: AT, moved: 5 } }])
    expect(stale.nodes[1]![1]).toMatchObject({ changeDeg: 0, reason: 'stale, mixture moved' })
    expect(suggestSpark(TABLE, judge(bin({ best: 70 }))).nodes[1]![1]!.reason).toBe('no advice there')
    expect(suggestSpark(TABLE, judge(bin({ best: 26, isStatic: true }))).nodes[1]![1]!.reason).toBe('no evidence')
    expect(suggestSpark(TABLE, judge(bin({ best: 20.5 }))).nodes[1]![1]!.reason).toBe('nothing to gain')
  })
  it('never beyond one step outside what was tried, nor beyond the table, whatever the limits', () => {
    const wide = { ...DEFAULT_SPARK_LIMITS, more: 30, less: 30 }
    for (const best of [8, 14, 20, 26, 32])
      for (const node of suggestSpark(TABLE, judge(bin({ best })), wide).nodes.flat()) {
        expect(node.after).toBeLessThanOrEqual(29)
        expect(node.after).toBeGreaterThanOrEqual(11)
      }
  })
  it('the arithmetic leads from the point to the cell', () => {
    const { arithmetic } = suggestSpark(TABLE, judge(bin({ best: 26 }))).nodes[1]![1]!
    expect(arithmetic.map((line) => line.what)).toEqual(['surface', 'limit', 'apply'])
    expect(arithmetic[0]!.values['best']).toBeCloseTo(26, 0)
    expect(arithmetic[2]).toMatchObject({ values: { before: 20, change: 1.5 }, result: 21.5 })
  })
  it('a table of fuel is refused', () => {
    expect(() => suggestSpark({ ...TABLE, kind: 'fuel base' }, [])).toThrow(RangeError)
  })
})

describe('a bin is judged with what happened since', () => {
  it('torque that goes with heat is told and taken out', () => {
    const one = bin({ best: 23 })
    // Three runs, each back at its first setting in the end, 3 % down by then.
    const points = one.points.map((point, k) => ({
      ...point,
      run: `r${k % 3}`,
      torque: point.torque * (1 - (0.03 * Math.floor(k / 3)) / 5),
    }))
    const { fit, drift } = judgeBin({ ...one, points }, [])
    expect(drift).toMatchObject({ isReal: true, pct: expect.closeTo(-3, 0) })
    expect(fit.note).toMatch(/−\d\.\d %.*heat\. It is taken out/)
    expect(Math.abs(fit.best!.advance - 23)).toBeLessThan(0.6)
  })
  it('readings from after a move of the mixture count alone', () => {
    const fuel = (value: number): Table => ({ ...TABLE, kind: 'fuel base', values: build(TABLE, () => value) })
    const history = {
      id: 'f',
      name: 'f',
      cylinder: null,
      states: [
        { n: 1, at: '2026-03-02T09:00:00.000Z', table: fuel(100) },
        { n: 2, at: '2026-03-02T11:00:00.000Z', table: fuel(106) },
      ],
    }
    const old = judgeBin(bin({ best: 26 }), [history])
    expect(old).toMatchObject({ stale: { moved: expect.closeTo(6, 6) as number }, replaced: 0 })
    const later = bin({ best: 23 }).points.map((point) => ({ ...point, at: '2026-03-02T12:00:00.000Z' }))
    const both = bin({ best: 26 })
    const mixed = judgeBin({ ...both, points: [...both.points, ...later] }, [history])
    expect(mixed).toMatchObject({ stale: null, replaced: 18 })
    expect(mixed.fit.best!.advance).toBeCloseTo(23, 0)
  })
})

describe('one knob and a point', () => {
  it.each([
    ['a best inside what was tried', { best: 26 }],
    ['another', { best: 22.3 }],
    ['knock before it', { best: 27, knocksFrom: 24 }],
    ['nothing to see knock by', { best: 29, hasKnockChannel: false }],
    ['a best below', { best: 15 }],
  ])('advise the same degrees for the same data: %s', (_what, over) => {
    const [judged] = judge(bin(over))
    const knob = oneKnob([judged!], RANGE_USES.even, DEFAULT_SPARK.knockMargin)
    expect(knob.verdict).toBe(judged!.fit.verdict)
    if (judged!.fit.recommended === null) expect(knob.recommended).toBeNull()
    else expect(judged!.bin.present + knob.recommended!).toBeCloseTo(judged!.fit.recommended, 0)
  })
})
