import { createPinia, setActivePinia } from 'pinia'
import { effectScope, ref, shallowRef } from 'vue'
import type { CylinderField, Field, NodeChange, SuggestedChange, TableInfo } from '@yuzumix/core'
import { useCellLook } from './useCellLook'

const GRID = { loadAxis: 'throttle' as const, rpm: [2000, 3000, 4000], load: [10, 50] }
const all = <T>(value: T): T[][] => GRID.load.map(() => GRID.rpm.map(() => value))
const VALUES = all(10)
const node = (reason: NodeChange['reason'], changePct: number, bridged = false): NodeChange => ({
  changePct,
  reason,
  bridged,
  before: 10,
  after: 10 * (1 + changePct / 100),
  arithmetic: [],
})
const NODES = [
  [
    node('held by closed loop', 0),
    node('taken back, a loop held it', -4),
    node('taken back, a loop held it', -2, true),
  ],
  [node('as estimated', 3), node('tapered off', 1.5), node('misfire, no fuel', 0)],
]
/** The first two cells of the lowest row are held; trims tell one of the upper row. */
const cylinder = {
  cylinder: 1,
  held: [
    [true, true, false],
    [true, false, false],
  ],
  byTrim: [
    [false, false, false],
    [true, false, false],
  ],
  changePct: all(2),
  lambda: all(0.95),
  target: all(0.93),
  lowPct: all(1),
  highPct: all(3),
  undoPct: all(null),
  silentPct: all(null),
  evidence: all('solid' as const),
} as unknown as CylinderField

function setUp(values = VALUES, view: 'change' | 'predicted' = 'change', suggestion = true) {
  setActivePinia(createPinia())
  const table = { ...GRID, kind: 'fuel base', composition: 'multiply', values: VALUES }
  const field = { grid: GRID, cylinders: [cylinder], misfires: [] } as unknown as Field
  return effectScope().run(() =>
    useCellLook({
      info: shallowRef({ table, cylinder: null } as unknown as TableInfo),
      field: shallowRef(field),
      suggested: shallowRef(suggestion ? ({ nodes: NODES, values } as unknown as SuggestedChange) : null),
      since: shallowRef([]),
      values: ref(values),
      shown: (value) => value.toFixed(2),
      differs: (row, column) => values[row]![column] !== VALUES[row]![column],
      view: ref(view),
      pair: shallowRef(null),
    }),
  )!.look
}

describe('what a cell of the change stage shows', () => {
  it('is hatched where a loop holds it, taken back or not, and not beside it nor where trims tell', () => {
    const look = setUp()
    expect([0, 1, 2].map((column) => look(0, column).held)).toEqual([true, true, false])
    expect([0, 1, 2].map((column) => look(1, column).held)).toEqual([false, false, false])
    expect([0, 1, 2].map((column) => look(0, column).under)).toEqual(['held', '−4.0', '−2.0'])
    expect(look(0, 2).filled).toBe(true)
  })
  it('has the change under its value: taken, tapered, or a word where there is none', () => {
    const look = setUp([VALUES[0]!, [10.3, 10, 10]])
    expect([0, 1, 2].map((column) => look(1, column).under)).toEqual(['✓+3.0', '~+1.5', 'misfire'])
    expect([look(1, 0).text, look(1, 0).edited, look(1, 1).edited]).toEqual(['10.30', true, false])
  })
  it('has no colour where a loop holds it and nothing is taken back', () => {
    const look = setUp()
    expect([look(0, 0).colour, look(0, 0).title]).toEqual([undefined, undefined])
    expect(look(0, 1)).toMatchObject({ title: 'taken back, a loop held it', colour: expect.any(String) })
  })
  it('as predicted is lambda with how far it is off, and held where the loop takes a change back', () => {
    const look = setUp(VALUES, 'predicted')
    expect(look(0, 0)).toMatchObject({ text: '0.950', under: 'held', held: true })
    expect(look(1, 1)).toMatchObject({ text: '0.950', under: '+2.2 %' })
  })
  it('is its value alone before a change is suggested', () => {
    expect(setUp(VALUES, 'change', false)(0, 0)).toMatchObject({ text: '10.00', under: '·', held: false })
  })
})
