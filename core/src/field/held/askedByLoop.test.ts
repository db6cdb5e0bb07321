import { build, type LoadGrid } from '../../table/table'
import { addedSince, isAskedByLoop, isCorrectedOtherwise } from './askedByLoop'

const GRID: LoadGrid = { loadAxis: 'throttle', rpm: [2000, 3000, 4000, 5000], load: [10, 100] }
const factor = (value: number) => build(GRID, (row, column) => (row === 0 && column > 0 ? value : 1))

describe('what a closed loop at lambda 1 could have asked for', () => {
  it('is ln(1 / target) of each of three passes', () => {
    const asks = -Math.log(0.95)
    expect([0.5, 1, 3].map((passes) => isAskedByLoop(passes * asks, 0.95))).toEqual([true, true, true])
    expect([4, -1].map((passes) => isAskedByLoop(passes * asks, 0.95))).toEqual([false, false])
  })
  it('is nothing where lambda 1 is the target, and leaner where the target is leaner', () => {
    expect([0, 0.004, 0.02, -0.02].map((added) => isAskedByLoop(added, 1))).toEqual([true, true, false, false])
    expect([-0.03, 0.03].map((added) => isAskedByLoop(added, 1.03))).toEqual([true, false])
  })
  it('is judged by what was added since the first pass before, for its cylinder', () => {
    const corrected = [
      { cylinder: null, factor: factor(1.1) },
      { cylinder: 2, factor: factor(1.2) },
    ]
    const before = [{ cylinder: null, factor: factor(1.04) }]
    const added = addedSince({ grid: GRID, corrected, correctedBefore: before }, 1)!
    expect([added(0, 0), added(0, 1), added(1, 1)]).toEqual([0, expect.closeTo(Math.log(1.1 / 1.04), 9), 0])
    expect(addedSince({ grid: GRID, corrected, correctedBefore: before }, 2)!(0, 2)).toBeCloseTo(
      Math.log((1.1 * 1.2) / 1.04),
      9,
    )
    expect(addedSince({ grid: GRID, corrected, correctedBefore: null }, 1)).toBeNull()
  })
  it('tells a zone that most nodes speak against', () => {
    const added = addedSince(
      { grid: GRID, corrected: [{ cylinder: null, factor: factor(1.04) }], correctedBefore: [] },
      1,
    )!
    const isOtherwise = (target: number, fromRpm: number, toRpm: number): boolean =>
      isCorrectedOtherwise(
        added,
        GRID,
        build(GRID, () => target),
        { row: 0, fromRpm, toRpm },
      )
    expect([isOtherwise(1, 2500, 5500), isOtherwise(0.96, 2500, 5500)]).toEqual([true, false])
    // Half of them, and between two nodes.
    expect([isOtherwise(1, 1500, 3500), isOtherwise(1, 3100, 3900)]).toEqual([false, false])
  })
})
