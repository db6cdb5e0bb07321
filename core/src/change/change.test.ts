import { DEFAULT_LIMITS } from './limits'
import { cellsSince } from './sinceMeasured'
import { predictLambda, suggestChange } from './suggest'
import { field, fieldOf, grid, table } from './testField'
import { filled, type Table } from '../table/table'

describe('suggested change', () => {
  it('takes a sure estimate nearly whole, and the new value carries it', () => {
    const node = suggestChange(
      table,
      field(
        fieldOf([
          [10, 0, 0],
          [0, 0, 0],
        ]),
      ),
    ).nodes[0]![0]!
    expect(node.reason).toBe('as estimated')
    expect(node.changePct).toBeCloseTo(10, 1)
    expect(node.after).toBeCloseTo(11, 1)
  })
  it('limits each pass: richer, leaner, and tighter leaner at high load', () => {
    const { nodes } = suggestChange(
      table,
      field(
        fieldOf([
          [40, -40, 1],
          [40, -40, 1],
        ]),
      ),
    )
    expect(nodes[0]!.map((n) => n.changePct)[0]).toBe(DEFAULT_LIMITS.richest)
    expect(nodes[0]![1]!.changePct).toBe(-DEFAULT_LIMITS.leanest)
    expect(nodes[1]![1]!.changePct).toBe(-DEFAULT_LIMITS.leanestHighLoad)
    expect([nodes[0]![0]!.reason, nodes[0]![1]!.reason]).toEqual(['limited, richer', 'limited, leaner'])
  })
  it('leaves held zones, unknown nodes and trifles alone', () => {
    const held = filled(grid, false)
    held[0]![0] = true
    const { nodes, values } = suggestChange(
      table,
      field(
        fieldOf(
          [
            [8, null, 0.1],
            [8, 8, 0.1],
          ],
          0.02,
          held,
        ),
      ),
      { ...DEFAULT_LIMITS, edge: 0 },
    )
    expect(nodes[0]!.map((n) => n.reason)).toEqual(['held by closed loop', 'no evidence', 'too small to matter'])
    expect(values[0]).toEqual(table.values[0])
  })
  it('meets a need for fuel under load that is told beyond doubt, however widely its size is known', () => {
    const wide = [
      [0.4, 0.2, 0.1],
      [9.3, 0.3, 0.2],
    ]
    const { nodes } = suggestChange(table, field(fieldOf(wide, 5)))
    expect(nodes[1]![0]!.changePct).toBeGreaterThan(9.3 / 2)
    expect(nodes[1]![0]!.reason).toBe('shrunk by its interval')
    // Where it may be none, or is rich, it is left to what lies about it.
    const doubted = suggestChange(table, field(fieldOf([wide[0]!, [4, 0.3, 0.2]], 5)))
    expect(doubted.nodes[1]![0]!.changePct).toBe(0)
    const rich = suggestChange(table, field(fieldOf([wide[0]!, [-9.3, 0.3, 0.2]], 5)))
    expect(rich.nodes[1]![0]!.changePct).toBe(0)
  })
  it('takes back what was corrected where a loop shows late, within the limits of the pass, less what was since', () => {
    const held = filled(grid, false)
    held[0]![0] = true
    const one = fieldOf(
      [
        [8, null, null],
        [8, null, null],
      ],
      0.02,
      held,
    )
    one.undoPct = [
      [-3, -6, null],
      [null, null, null],
    ]
    const { nodes } = suggestChange(table, field(one), { ...DEFAULT_LIMITS, edge: 0 })
    expect(nodes[0]!.map((node) => node.reason)).toEqual([
      'taken back, a loop held it',
      'taken back, a loop held it',
      'no evidence',
    ])
    expect(nodes[0]!.map((node) => node.changePct)).toEqual([expect.closeTo(-3, 9), -DEFAULT_LIMITS.leanest, 0])
    expect(nodes[0]![0]!.after).toBeCloseTo(9.7, 9)
    expect(nodes[1]![1]!.reason).toBe('no evidence')
    const now = { ...table, values: table.values.map((row) => row.map((value) => value * 0.97)) }
    const after = suggestChange(now, field(one), { ...DEFAULT_LIMITS, edge: 0 }, null, [
      { cylinder: null, then: table, now },
    ])
    expect(after.nodes[0]![0]).toMatchObject({ reason: 'held by closed loop', changePct: 0 })
  })
  it('leaves alone what is less sure than the limit, but for a taper that leaves no cliff', () => {
    const measured = field(
      fieldOf(
        [
          [10, 10, 10],
          [5, 5, 5],
        ],
        6,
      ),
    )
    const [row] = suggestChange(table, measured).nodes
    expect(row!.map((node) => [node.reason, node.changePct])).toEqual(Array(3).fill(['interval too wide', 0]))
    expect(suggestChange(table, measured, { ...DEFAULT_LIMITS, widest: 7 }).nodes[0]![0]!.changePct).toBeGreaterThan(8)
    const edge = fieldOf([
      [10, null, null],
      [10, null, null],
    ])
    expect(
      suggestChange(table, field(edge)).nodes[0]!.map((node) => [node.reason, Math.round(node.changePct)]),
    ).toEqual([
      ['as estimated', 10],
      ['tapered off', 6],
      ['tapered off', 2],
    ])
  })
  it('bridges between readings by default, marked, and shrunk by its own interval', () => {
    const one = fieldOf([
      [6, 8, 10],
      [6, 8, 10],
    ])
    const between = {
      ...one,
      evidence: one.evidence.map((row) => row.map((grade, k) => (k === 1 ? 'bridged' : grade) as typeof grade)),
      samples: one.samples.map((row) => row.map((n, k) => (k === 1 ? 0 : n))),
      lowPct: one.lowPct.map((row) => row.map((low, k) => (k === 1 ? low! - 3 : low))),
    }
    const [row] = suggestChange(table, field(between)).nodes
    expect(row!.map((node) => node.bridged)).toEqual([false, true, false])
    expect(row![1]!.reason).toBe('bridged between readings')
    expect(row![1]!.changePct).toBeLessThan(8)
    expect(row![1]!.changePct).toBeGreaterThan(7.8)
    const off = suggestChange(table, field(between), { ...DEFAULT_LIMITS, bridge: false, edge: 0 }).nodes[0]!
    expect(off.map((node) => node.reason)).toEqual(['as estimated', 'no evidence', 'as estimated'])
  })
  it('what was changed since the runs is taken off: the same correction is never taken twice', () => {
    const measured = field(
      fieldOf([
        [22, 10, -6],
        [22, 10, -6],
      ]),
    )
    const first = suggestChange(table, measured)
    const now = { ...table, values: first.values }
    const left = suggestChange(now, measured, undefined, null, [{ cylinder: null, then: table, now }])
    const of = (change: typeof left): number[] => change.nodes[0]!.map((node) => Math.round(10 * node.changePct) / 10)
    // 22 was cut to 15, 10 was taken whole, -6 was cut to -4.
    expect(of(first)).toEqual([15, 10, -4])
    expect(of(left)).toEqual([6.1, 0, -2.1])
    expect(left.nodes[0]![0]!.arithmetic.map((step) => step.what)).toEqual(['measured', 'since', 'shrink', 'apply'])
    expect(left.nodes[0]![1]!.reason).toBe('too small to matter')
    expect(left.predicted[0]![1]).toBeCloseTo(0.9, 2)
    // A trim of another cylinder changed nothing for this one.
    const other = suggestChange(table, measured, undefined, 1, [{ cylinder: 2, then: table, now }])
    expect(of(other)).toEqual(of(first))
    expect(cellsSince({ cylinder: null, then: table, now })).toBe(6)
    expect(predictLambda(measured, null, filled(grid, 1), [{ cylinder: null, then: table, now }])[0]![0]).toBeCloseTo(
      (0.9 * 1.22) / 1.15,
      6,
    )
  })
  it('a global trim that was changed since counts for every cell', () => {
    const trim: Table = { ...table, kind: 'fuel trim', composition: 'add', global: 0, values: filled(grid, 5) }
    const measured = field(
      fieldOf([
        [8, 8, 8],
        [8, 8, 8],
      ]),
    )
    const now = { ...trim, global: 8.4 }
    const [node] = suggestChange(now, measured, undefined, null, [{ cylinder: null, then: trim, now }]).nodes[0]!
    // 5 + 8.4 is 8 % more than 5.
    expect(node!.reason).toBe('too small to matter')
  })
  it('fills from neighbours only when asked, and says so', () => {
    const node = suggestChange(
      table,
      field(
        fieldOf([
          [6, null, 6],
          [6, 6, 6],
        ]),
      ),
      { ...DEFAULT_LIMITS, fill: true },
    ).nodes[0]![1]!
    expect(node.reason).toBe('filled from neighbours')
    expect(node.changePct).toBeCloseTo(6, 6)
  })
  it('a shared table follows the cylinder that needs the most fuel', () => {
    const two = field(
      fieldOf([
        [2, 2, 2],
        [2, 2, 2],
      ]),
      fieldOf(
        [
          [7, 1, 2],
          [2, 2, 2],
        ],
        0.2,
        filled(grid, false),
        2,
      ),
    )
    expect(suggestChange(table, two).nodes[0]![0]!.changePct).toBeCloseTo(7, 1)
    expect(suggestChange(table, two, DEFAULT_LIMITS, 1).nodes[0]![0]!.changePct).toBeCloseTo(2, 1)
    expect(() => suggestChange(table, two, DEFAULT_LIMITS, 3)).toThrow(/no reading of cylinder 3/)
  })
  it('its arithmetic is made of the numbers that were used', () => {
    const { arithmetic, after } = suggestChange(
      table,
      field(
        fieldOf([
          [30, 0, 0],
          [0, 0, 0],
        ]),
      ),
    ).nodes[0]![0]!
    expect(arithmetic.map((step) => step.what)).toEqual(['measured', 'shrink', 'limit', 'apply'])
    expect(arithmetic[0]!.values['lambda']! / arithmetic[0]!.values['target']!).toBeCloseTo(1.3, 9)
    expect(arithmetic.at(-1)!.result).toBe(after)
  })
  it('refuses other breakpoints, and does not touch what is no fuel table', () => {
    expect(() =>
      suggestChange(
        { ...table, rpm: [1, 2, 3] },
        field(
          fieldOf([
            [1, 1, 1],
            [1, 1, 1],
          ]),
        ),
      ),
    ).toThrow(/other breakpoints/)
    expect(() =>
      suggestChange(
        { ...table, kind: 'spark base' },
        field(
          fieldOf([
            [9, 9, 9],
            [9, 9, 9],
          ]),
        ),
      ),
    ).toThrow(RangeError)
  })
  it('never leaves what the table can hold', () => {
    const trim: Table = { ...table, kind: 'fuel trim', values: filled(grid, 299) }
    const node = suggestChange(
      trim,
      field(
        fieldOf([
          [15, 15, 15],
          [15, 15, 15],
        ]),
      ),
    ).nodes[0]![0]!
    expect(node.after).toBe(300)
    expect(node.reason).toBe('limited by the table')
  })
})

it('prediction divides by the fuel factor, and held zones stay where the loop holds them', () => {
  const held = filled(grid, false)
  held[1]![2] = true
  const one = fieldOf(
    [
      [10, null, 0],
      [0, 0, 5],
    ],
    0.2,
    held,
  )
  const predicted = predictLambda(field(one), null, filled(grid, 1.1))
  expect(predicted[0]![0]).toBeCloseTo(0.9, 9)
  expect(predicted[0]![1]).toBeNull()
  expect(predicted[1]![2]).toBeCloseTo(0.945, 9)
})
