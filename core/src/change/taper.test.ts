import fc from 'fast-check'
import { taperChanges } from './taper'

const open = (rows: number, columns: number): boolean[][] =>
  Array.from({ length: rows }, () => new Array<boolean>(columns).fill(false))

describe('the edge of a change', () => {
  it('runs out by the step allowed, along rows and columns', () => {
    const changes = [
      [9, null, null, null],
      [null, null, null, null],
    ]
    const tapered = taperChanges(changes, open(2, 4), 4)
    expect(tapered[0]).toEqual([null, 5, 1, null])
    expect(tapered[1]).toEqual([5, 1, null, null])
  })
  it('leaves no step larger than allowed beside a free cell, and touches neither known cells nor held ones', () => {
    const cell = fc.option(fc.integer({ min: -15, max: 15 }), { nil: null })
    const row = fc.array(cell, { minLength: 6, maxLength: 6 })
    fc.assert(
      fc.property(fc.array(row, { minLength: 4, maxLength: 4 }), (changes) => {
        // One known cell only: with more, two that differ may leave no room between them.
        const first = changes.flat().findIndex((one) => one !== null)
        const one = changes.map((cells, r) => cells.map((value, k) => (6 * r + k === first ? value : null)))
        const walls = open(4, 6)
        walls[3]![5] = one[3]![5] === null
        const tapered = taperChanges(one, walls, 3)
        const all = one.map((cells, r) => cells.map((value, k) => value ?? tapered[r]![k] ?? 0))
        expect(tapered[3]![5]).toBeNull()
        all.forEach((cells, r) =>
          cells.forEach((value, k) => {
            for (const [r2, k2] of [
              [r + 1, k],
              [r, k + 1],
            ] as const)
              if (walls[r]![k] === false && walls[r2]?.[k2] === false)
                expect(Math.abs(value - all[r2]![k2]!)).toBeLessThanOrEqual(3 + 0.01)
          }),
        )
      }),
    )
  })
  it('between a richer and a leaner cell goes half way where no step can be kept', () => {
    expect(taperChanges([[12, null, -12]], open(1, 3), 4)).toEqual([[null, 0, null].map((one) => one || null)])
    expect(taperChanges([[12, null, -4]], open(1, 3), 4)[0]![1]).toBeCloseTo(4, 9)
  })
  it('is left away on demand', () => {
    expect(taperChanges([[9, null]], open(1, 2), 0)).toEqual([[null, null]])
  })
})
