import fc from 'fast-check'
import { extendCells } from './extend'
import type { Grid, SparseMatrix } from './table'

const grid: Grid = { rpm: [1000, 1500, 3000, 6000, 7000], load: [0, 10, 15, 40, 100] }
const plane = (rpm: number, load: number): number => 3 + 0.002 * rpm - 0.07 * load
const at = (known: (row: number, column: number) => boolean): SparseMatrix =>
  grid.load.map((load, row) => grid.rpm.map((rpm, column) => (known(row, column) ? plane(rpm, load) : null)))

describe('cells filled from known ones', () => {
  it('come out of a plane as the plane, by the distance of the breakpoints and not by counting cells', () => {
    const { values, filled } = extendCells(
      grid,
      at((row) => row === 0 || row === 4),
    )
    values.forEach((cells, row) =>
      cells.forEach((value, column) => expect(value).toBeCloseTo(plane(grid.rpm[column]!, grid.load[row]!), 9)),
    )
    expect(filled[0]).toEqual([false, false, false, false, false])
    expect(filled[2]).toEqual([true, true, true, true, true])
  })
  it('go on flat beyond the known, and are the plane between', () => {
    const { values } = extendCells(
      grid,
      at((row, column) => (row === 1 || row === 3) && column >= 1 && column <= 3),
    )
    expect(values[1]![0]).toBeCloseTo(plane(1500, 10), 6)
    expect(values[4]![2]).toBeCloseTo(plane(3000, 40), 6)
    expect(values[2]![2]).toBeCloseTo(plane(3000, 15), 9)
    expect(values.flat().every((value) => value !== null)).toBe(true)
  })
  it('lie within what is known about them', () => {
    const cell = fc.option(fc.double({ min: -20, max: 20, noNaN: true }), { nil: null })
    const cells = fc.array(fc.array(cell, { minLength: 5, maxLength: 5 }), { minLength: 5, maxLength: 5 })
    fc.assert(
      fc.property(cells, (known) => {
        const all = known.flat().filter((one): one is number => one !== null)
        const { values, filled } = extendCells(grid, known)
        values.forEach((row, r) =>
          row.forEach((value, k) => {
            if (!filled[r]![k]) return expect(value).toBe(known[r]![k])
            expect(value).toBeGreaterThanOrEqual(Math.min(...all) - 1e-9)
            expect(value).toBeLessThanOrEqual(Math.max(...all) + 1e-9)
          }),
        )
      }),
    )
  })
  it('come to nothing where nothing is known', () => {
    expect(
      extendCells(
        grid,
        at(() => false),
      ).values.flat(),
    ).toEqual(Array(25).fill(null))
  })
})
