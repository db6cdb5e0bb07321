import { DEFAULT_LIMITS } from './limits'
import { suggestChange } from './suggest'
import { field, fieldOf, table } from './testField'
import { filled, type Table } from '../table/table'

describe('one change for all rows from high load up', () => {
  const tall: Table = {
    ...table,
    load: [20, 80, 100],
    values: [
      [10, 20, 30],
      [40, 50, 60],
      [40, 50, 60],
    ],
  }
  const limits = { ...DEFAULT_LIMITS, equal: true, edge: 0 }
  const upper = (changes: (number | null)[][], held = filled(tall, false)) =>
    suggestChange(tall, { ...field(fieldOf(changes, 0.2, held)), grid: tall }, limits).nodes
  it('is their mean by certainty, and reaches rows that nothing is known of', () => {
    const nodes = upper([
      [3, 3, 3],
      [6, 6, 6],
      [8, null, 8],
    ])
    expect(nodes[1]!.map((one) => one.changePct)).toEqual(nodes[2]!.map((one) => one.changePct))
    expect(nodes[1]![0]!.changePct).toBeCloseTo(7, 0)
    expect(nodes[2]![1]!).toMatchObject({ reason: 'equal with the rows above high load' })
    expect(nodes[0]![0]!.changePct).toBeCloseTo(3, 1)
  })
  it('stays within the limits and leaves held cells alone', () => {
    const held = filled(tall, false)
    held[2]![1] = true
    const nodes = upper(
      [
        [0, 0, 0],
        [-9, -9, -9],
        [-9, -9, -9],
      ],
      held,
    )
    expect(nodes[1]![0]!.changePct).toBe(-2.5)
    expect(nodes[2]![1]!.reason).toBe('held by closed loop')
  })
})
