import type { CylinderField, Field } from '../field/field'
import { fixedLag } from '../field/lag'
import { filled, type Table } from '../table/table'
import { applyFactor, factorBetween } from './applyFactor'
import { DEFAULT_LIMITS, keptShare, predictLambda, suggestChange } from './suggest'

const grid = { loadAxis: 'throttle' as const, rpm: [2000, 4000, 6000], load: [20, 100] }
const table: Table = {
  ...grid,
  kind: 'fuel base',
  composition: 'multiply',
  values: [
    [10, 20, 30],
    [40, 50, 60],
  ],
}

/** A field with these changes, all with the same half interval; null is no evidence. */
function fieldOf(changes: (number | null)[][], half = 0.2, held = filled(grid, false), cylinder = 1): CylinderField {
  const at = (f: (c: number) => number) => changes.map((row) => row.map((c) => (c === null ? null : f(c))))
  return {
    cylinder,
    lambda: at((c) => 0.9 * (1 + c / 100)),
    target: filled(grid, 0.9),
    changePct: at((c) => c),
    lowPct: at((c) => c - half),
    highPct: at((c) => c + half),
    samples: filled(grid, 50),
    passes: filled(grid, 3),
    evidence: changes.map((row) => row.map((c) => (c === null ? 'none' : 'solid'))),
    held,
    byTrim: filled(grid, false),
    noise: 0.01,
  }
}
const field = (...cylinders: CylinderField[]): Field => ({
  grid,
  method: 'solve',
  lag: fixedLag(0),
  cylinders,
  runs: [],
  heldZones: [],
})

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
  it('shrinks toward zero where the interval is wide, never past it', () => {
    const sure = suggestChange(
      table,
      field(
        fieldOf(
          [
            [5, 5, 5],
            [5, 5, 5],
          ],
          0.1,
        ),
      ),
    ).nodes[0]![0]!
    const wide = suggestChange(
      table,
      field(
        fieldOf(
          [
            [5, 5, 5],
            [5, 5, 5],
          ],
          10,
        ),
      ),
    ).nodes[0]![0]!
    expect(wide.reason).toBe('shrunk, thin evidence')
    expect(wide.changePct).toBeGreaterThan(0)
    expect(wide.changePct).toBeLessThan(0.5 * sure.changePct)
    expect(keptShare(0, 3)).toBe(1)
    expect(keptShare(3, 0)).toBe(1)
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
            [8, 8, 8],
          ],
          0.2,
          held,
        ),
      ),
    )
    expect(nodes[0]!.map((n) => n.reason)).toEqual(['held by closed loop', 'no evidence', 'too small to matter'])
    expect(values[0]).toEqual(table.values[0])
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
    expect(() => applyFactor(10, 1.1, { kind: 'spark base' })).toThrow(RangeError)
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

describe('factors', () => {
  it.each([
    ['fuel base', 'multiply', 50],
    ['fuel trim', 'multiply', 8],
    ['fuel trim', 'add', -6],
  ] as const)('between two values undo applying: %s, %s', (kind, composition, value) => {
    for (const factor of [0.8, 1, 1.07, 1.3])
      expect(
        factorBetween(value, applyFactor(value, factor, { kind, composition }), { kind, composition }),
      ).toBeCloseTo(factor, 12)
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
