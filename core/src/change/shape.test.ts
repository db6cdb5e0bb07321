import type { Table } from '../table/table'
import { changeShape } from './shape'
import type { ChangeReason } from './arithmetic'
import type { NodeChange } from './suggest'

const table: Table = {
  kind: 'fuel base',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [2000, 3000, 4000, 6000],
  load: [20, 40, 60],
  values: [
    [10, 10, 10, 10],
    [10, 10, 10, 10],
    [10, 10, 10, 10],
  ],
}
/** A change by cell; cells that do not move have no evidence unless said otherwise. */
function shapeOf(changes: number[][], reasons: Record<string, ChangeReason> = {}, of = table) {
  const nodes = changes.map((cells, row) =>
    cells.map(
      (changePct, column) =>
        ({
          changePct,
          reason: reasons[`${row}:${column}`] ?? (changePct === 0 ? 'no evidence' : 'as estimated'),
        }) as NodeChange,
    ),
  )
  const values = of.values.map((cells, row) => cells.map((value, column) => value * (1 + changes[row]![column]! / 100)))
  return changeShape(of, { nodes, values })
}
const FLAT = [
  [0, 0, 0, 0],
  [0, 0, 0, 0],
  [0, 0, 0, 0],
]

describe('the shape of a change', () => {
  it('is the largest step and bend between neighbours, before and after', () => {
    const { before, after } = shapeOf([FLAT[0]!, [0, 8, 0, 0], FLAT[2]!])
    expect(before).toEqual({ step: null, bend: null })
    expect(Math.abs(after.step!.pct)).toBeCloseTo(8, 0)
    expect(after.bend).toMatchObject({ row: 1, column: 1 })
    // 1 / 1.08 on both sides, twice over.
    expect(after.bend!.pct).toBeCloseTo(100 * (1.08 ** -2 - 1), 6)
  })
  it('minds that breakpoints are uneven: a straight line has no bend', () => {
    const straight = { ...table, values: table.values.map(() => table.rpm.map((rpm) => Math.exp(rpm / 10000))) }
    expect(Math.abs(shapeOf(FLAT, {}, straight).before.bend?.pct ?? 0)).toBeLessThan(1e-9)
  })
  it('of a trim in percent is that of the fuel it delivers', () => {
    const trim: Table = { ...table, kind: 'fuel trim', values: [[0, 10, 0, 0], FLAT[1]!, FLAT[2]!] }
    const { before } = shapeOf(FLAT, {}, trim)
    expect(Math.abs(before.step!.pct)).toBeGreaterThan(9)
    expect(Math.abs(before.step!.pct)).toBeLessThanOrEqual(10.0001)
  })
  it('warns of a ridge between rows that nothing is known of, largest first, and says why', () => {
    const { warnings } = shapeOf([FLAT[0]!, [6, 6, 9, 6], FLAT[2]!])
    expect(warnings[0]).toMatchObject({ what: 'ridge', row: 1, column: 2, along: 'load', why: 'no evidence' })
    expect(warnings[0]!.pct).toBeCloseTo(9, 9)
    expect(warnings.map((one) => Math.abs(one.pct))).toEqual(
      [...warnings.map((one) => Math.abs(one.pct))].sort((a, b) => b - a),
    )
  })
  it('warns of a hole where a loop holds a cell among richer ones', () => {
    const { warnings } = shapeOf(
      [
        [5, 5, 5, 5],
        [5, 0, 5, 5],
        [5, 5, 5, 5],
      ],
      { '1:1': 'held by closed loop' },
    )
    expect(warnings).toEqual([expect.objectContaining({ what: 'hole', row: 1, column: 1, why: 'held by closed loop' })])
  })
  it('says nothing of a ridge that the readings ask for', () => {
    const measured = {
      '0:2': 'as estimated',
      '2:2': 'too small to matter',
      '1:1': 'as estimated',
      '1:3': 'as estimated',
    } as const
    const { warnings } = shapeOf([FLAT[0]!, [0, 0, 9, 0], FLAT[2]!], measured)
    expect(warnings).toEqual([])
  })
})
