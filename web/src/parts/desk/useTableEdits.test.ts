import { ref } from 'vue'
import type { Matrix, NodeChange, Selection, SuggestedChange, TableInfo, TableKind } from '@yuzumix/core'
import { useTableEdits } from './useTableEdits'
import type { Editor } from './useWorkingTable'

const VALUES = [
  [10, 20, 30],
  [40, 50, 60],
  [70, 80, 90],
]
/** A table under edit, with a suggestion that adds 10 % wherever something is known. */
function edits(kind: TableKind = 'fuel base', unknown: [number, number][] = []) {
  const values = ref<Matrix>(VALUES.map((row) => [...row]))
  const saved = ref<Matrix>(VALUES.map((row) => [...row]))
  const selection = ref<Selection>({ row0: 0, column0: 0, row1: 0, column1: 0 })
  const table = {
    kind,
    composition: 'multiply',
    loadAxis: 'throttle',
    rpm: [2000, 4000, 8000],
    load: [20, 60, 100],
    values: VALUES,
  }
  const info = ref({ id: 't', name: 'T', cylinder: null, table, revisions: [] } as unknown as TableInfo)
  const isUnknown = (row: number, column: number): boolean => unknown.some(([r, c]) => r === row && c === column)
  const nodes = VALUES.map((row, r) =>
    row.map((before, c): Partial<NodeChange> =>
      isUnknown(r, c)
        ? { reason: 'no evidence', changePct: 0, before, after: before }
        : ({ reason: 'as estimated', changePct: 10, before, after: before * 1.1 } as never),
    ),
  )
  const suggested = ref({ nodes } as unknown as SuggestedChange)
  const hand = new Set<string>()
  const edit = (next: Matrix, editor: Editor = 'hand'): void => {
    next.forEach((row, r) =>
      row.forEach((value, k) => {
        if (value !== values.value[r]![k]) hand[editor === 'hand' ? 'add' : 'delete'](`${r}:${k}`)
      }),
    )
    values.value = next
  }
  const isByHand = (r: number, k: number): boolean => hand.has(`${r}:${k}`) && values.value[r]![k] !== VALUES[r]![k]
  const made = useTableEdits(info, { values, saved, edit, isByHand }, selection, suggested)
  const set = (value: number): void => made.enter(() => value)
  const select = (row0: number, column0: number, row1 = row0, column1 = column0): void =>
    void (selection.value = { row0, column0, row1, column1 })
  return { ...made, set, values, select }
}

describe('edits of a table', () => {
  it('set, and step: one percent of a base value, one percentage point of a trim', () => {
    const base = edits()
    base.select(0, 0, 0, 1)
    base.set(12)
    base.step(1)
    expect(base.values.value[0]!.map((value) => value.toFixed(2))).toEqual(['12.12', '12.12', '30.00'])
    const trim = edits('fuel trim')
    trim.select(2, 2)
    trim.step(-1)
    expect(trim.values.value[2]![2]).toBe(89)
  })
  it('a straight line goes by the distance of the breakpoints', () => {
    const { line, select, values } = edits()
    select(0, 0, 0, 2)
    line()
    expect(values.value[0]![1]).toBeCloseTo(10 + (20 * 2000) / 6000, 9)
  })
  it('holds the rows above flat', () => {
    const { hold, select, values } = edits()
    select(1, 1)
    hold()
    expect(values.value[2]).toEqual([40, 50, 60])
  })
  it('takes the suggestion for a selection or for all', () => {
    const { takeSelection, takeAll, select, values } = edits()
    select(1, 1)
    takeSelection()
    expect(values.value[1]![1]).toBeCloseTo(55, 9)
    expect(values.value[0]![0]).toBe(10)
    takeAll()
    expect(values.value[2]![2]).toBeCloseTo(99, 9)
  })
  it('"take all" leaves what was set by hand, names it, and takes it when asked', () => {
    const { takeAll, untaken, leftByHand, enter, select, values } = edits()
    expect(untaken.value).toBe(9)
    select(0, 1)
    enter((cell) => cell * 2)
    takeAll()
    expect(values.value[0]).toEqual([11, 40, 33].map((value) => expect.closeTo(value, 6) as number))
    expect(leftByHand.value).toEqual([{ row: 0, column: 1 }])
    expect(untaken.value).toBe(1)
    takeAll({ intoHand: true })
    expect(values.value[0]![1]).toBeCloseTo(22, 9)
    expect(untaken.value).toBe(0)
    expect(leftByHand.value).toEqual([])
  })
  it('"take all" leaves a cell set by hand for which nothing is suggested', () => {
    const { takeAll, enter, select, values, leftByHand } = edits('fuel base', [[1, 1]])
    select(1, 1)
    enter(() => 77)
    takeAll()
    expect(values.value[1]![1]).toBe(77)
    expect(leftByHand.value).toEqual([{ row: 1, column: 1 }])
  })
  it('extends the change of neighbours into cells without evidence, and leaves the others', () => {
    const { takeAll, extend, select, values } = edits('fuel base', [[1, 1]])
    takeAll()
    expect(values.value[1]![1]).toBe(50)
    select(0, 0, 2, 2)
    extend()
    expect(values.value[1]![1]).toBeCloseTo(55, 6)
    expect(values.value[0]![0]).toBeCloseTo(11, 9)
  })
  it('pasted rows come in the order of the load and hang from the top of the selection', () => {
    const { paste, select, values } = edits()
    select(1, 0, 2, 1)
    expect(paste('3\t4\n1\t2')).toEqual(['4 cells are pasted, 2 rows by 2.'])
    expect(values.value.map((row) => row.slice(0, 2))).toEqual([
      [10, 20],
      [1, 2],
      [3, 4],
    ])
  })
  it('spark goes by half degrees, base and trim alike', () => {
    for (const kind of ['spark base', 'spark trim'] as const) {
      const one = edits(kind)
      one.select(0, 0)
      one.step(1)
      one.step(1)
      one.select(1, 1)
      one.step(-1)
      expect(one.values.value[0]![0]).toBe(11)
      expect(one.values.value[1]![1]).toBe(49.5)
    }
  })
  it('cells without evidence of spark get their neighbours’ degrees, not their share', () => {
    const one = edits('spark base', [[1, 1]])
    one.select(0, 0, 2, 2)
    one.takeSelection()
    // All around moved by two degrees.
    one.values.value = VALUES.map((row, r) => row.map((cell, k) => (r === 1 && k === 1 ? cell : cell + 2)))
    one.select(1, 1)
    one.extend()
    expect(one.values.value[1]![1]).toBeCloseTo(52, 6)
  })
})
