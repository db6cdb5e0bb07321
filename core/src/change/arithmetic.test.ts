import { keptShare } from './arithmetic'
import { suggestChange, type NodeChange } from './suggest'
import { field, fieldOf, table } from './testField'

/** The change of cells of both rows alike, at one speed. */
function changeAt(column: number, needs: number[], half: number): NodeChange {
  return suggestChange(table, field(fieldOf([needs, needs], half))).nodes[0]![column]!
}

describe('what is kept of an estimate', () => {
  it('shrinks toward zero where the interval is wide, never past it', () => {
    const sure = changeAt(0, [5, 5, 5], 0.1)
    const wide = changeAt(0, [5, 5, 5], 3.9)
    expect(wide.reason).toBe('shrunk by its interval')
    expect(wide.changePct).toBeGreaterThan(0)
    expect(wide.changePct).toBeLessThan(0.9 * sure.changePct)
    expect(keptShare(0, 3)).toBe(1)
    expect(keptShare(3, 0)).toBe(1)
  })
  it('shrinks by what is usual beside a cell, so that neighbours of one need end up alike', () => {
    // Twice the cell itself, the one above that needs the same, and the one to its right.
    const usual = (right: number): number => Math.sqrt((3 * 1 + right ** 2) / 4)
    for (const right of [0.2, 1, 4])
      expect(changeAt(0, [1, right, right], 1).changePct).toBeCloseTo(keptShare(usual(right), 1), 6)
  })
})

describe('a change too small to matter', () => {
  it('is left out where all beside it are', () => {
    expect(changeAt(2, [0, 0, 0.15], 0.001)).toMatchObject({ changePct: 0, reason: 'too small to matter' })
  })
  it('is made beside a change that is made, where it would leave a bend', () => {
    expect(changeAt(1, [0, 0.15, 5], 0.001)).toMatchObject({ reason: 'as estimated' })
    expect(changeAt(1, [0, 0.15, 5], 0.001).changePct).toBeCloseTo(0.15, 3)
  })
  it('is left out even there when no controller would tell', () => {
    expect(changeAt(1, [5, 0.02, 5], 0.001)).toMatchObject({ changePct: 0, reason: 'too small to matter' })
  })
})
