import { effectScope, nextTick, ref } from 'vue'
import type { Matrix, TableInfo } from '@yuzumix/core'
import { useWorkingTable } from './useWorkingTable'

/** What a browser keeps, without one. */
const kept = new Map<string, string>()
beforeAll(() => {
  Object.assign(globalThis, {
    localStorage: {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, value: string) => kept.set(key, value),
      removeItem: (key: string) => kept.delete(key),
    },
  })
})
beforeEach(() => kept.clear())

const VALUES: Matrix = [
  [1, 2],
  [3, 4],
]
const tableAt = (n: number, values = VALUES, id = 't'): TableInfo =>
  ({
    id,
    table: { values },
    revisions: Array.from({ length: n }, (_, k) => ({ n: k + 1 })),
  }) as unknown as TableInfo
function working(info = ref<TableInfo | null>(tableAt(1))) {
  const made = effectScope(true).run(() => useWorkingTable(info))!
  return { info, ...made }
}
const with9: Matrix = [
  [9, 2],
  [3, 4],
]
const with98: Matrix = [
  [9, 8],
  [3, 4],
]

describe('a table being worked on', () => {
  it('knows which cells were set by hand, also after a reload; what was suggested or put back is none', async () => {
    const one = working()
    one.edit(with9)
    one.edit(with98, 'suggestion')
    expect([one.isByHand(0, 0), one.isByHand(0, 1)]).toEqual([true, false])
    one.edit([
      [9, 2],
      [3, 7],
    ])
    expect([one.isByHand(0, 1), one.isByHand(1, 1)]).toEqual([false, true])
    await nextTick()
    expect(working(one.info).isByHand(0, 0)).toBe(true)
    one.undo()
    expect(one.isByHand(1, 1)).toBe(false)
  })
  it("what another window saved meanwhile comes under it: one's own cells stay, the others are as they were saved", async () => {
    const info = ref<TableInfo | null>(tableAt(1))
    const one = working(info)
    one.edit(with9)
    const theirs: Matrix = [
      [5, 2],
      [3, 6],
    ]
    info.value = tableAt(2, theirs)
    await nextTick()
    expect(one.values.value).toEqual([
      [9, 2],
      [3, 6],
    ])
    expect(one.meanwhile.value).toEqual({ revision: 2, theirs: 2, both: 1 })
    expect([one.editedCount.value, one.parent.value, one.isByHand(0, 0)]).toEqual([1, 2, true])
    // The same after a reload of the page, though the table moved on while it was closed.
    await nextTick()
    const later = working(
      ref<TableInfo | null>(
        tableAt(3, [
          [5, 7],
          [3, 6],
        ]),
      ),
    )
    expect(later.values.value).toEqual([
      [9, 7],
      [3, 6],
    ])
    expect(later.meanwhile.value).toEqual({ revision: 3, theirs: 1, both: 0 })
    expect(later.restored.value).toBe(true)
  })
  it('what was saved from this desk itself leaves nothing to join', async () => {
    const info = ref<TableInfo | null>(tableAt(1))
    const one = working(info)
    one.edit(with9)
    info.value = tableAt(2, with9)
    await nextTick()
    expect([one.editedCount.value, one.meanwhile.value, one.isEdited.value]).toEqual([0, null, false])
  })
  it('another global trim is an edit, too, that can be undone', () => {
    const one = working()
    one.setGlobal(4)
    expect([one.isEdited.value, one.editedCount.value]).toEqual([true, 0])
    one.undo()
    expect([one.isEdited.value, one.global.value]).toEqual([false, 0])
  })
  it('begins as it was saved; an edit is one step that can be undone and done again', () => {
    const one = working()
    expect(one.values.value).toEqual(VALUES)
    expect(one.editedCount.value).toBe(0)
    one.edit(with9)
    one.edit(with98)
    expect(one.editedCount.value).toBe(2)
    expect(one.differs(0, 1)).toBe(true)
    expect(one.differs(1, 1)).toBe(false)
    one.undo()
    expect(one.values.value).toEqual(with9)
    one.undo()
    one.undo()
    expect(one.values.value).toEqual(VALUES)
    expect(one.canUndo.value).toBe(false)
    one.redo()
    one.redo()
    one.redo()
    expect(one.values.value).toEqual(with98)
    expect(one.canRedo.value).toBe(false)
  })
  it('the same values again are no step, and a new edit forgets what was undone', () => {
    const one = working()
    one.edit(VALUES.map((row) => [...row]))
    expect(one.canUndo.value).toBe(false)
    one.edit(with9)
    one.undo()
    one.edit(with98)
    expect(one.canRedo.value).toBe(false)
  })
  it('what is not saved outlasts the page, and says that it was kept', async () => {
    const first = working()
    first.edit(with9)
    await nextTick()
    const second = working()
    expect(second.values.value).toEqual(with9)
    expect(second.restored.value).toBe(true)
    second.undo()
    // Nothing was done on this page.
    expect(second.values.value).toEqual(with9)
  })
  it('a draft is forgotten once it is taken back, or the table moved on', async () => {
    const one = working()
    one.edit(with9)
    await nextTick()
    one.undo()
    await nextTick()
    expect(kept.size).toBe(0)
    one.edit(with9)
    await nextTick()
    expect(working(ref(tableAt(2, with98))).values.value).toEqual(with98)
  })
  it('a draft of another shape, or one that is no draft at all, is passed over', () => {
    for (const text of ['{', 'null', '{"parent":1,"values":[[1,2,3]]}', '{"parent":1}']) {
      kept.set('yuzumix.draft.t', text)
      expect(working().values.value).toEqual(VALUES)
    }
  })
  it('another table has values and a history of its own', async () => {
    const one = working()
    one.edit(with9)
    await nextTick()
    one.info.value = tableAt(1, with98, 'other')
    await nextTick()
    expect(one.values.value).toEqual(with98)
    expect(one.canUndo.value).toBe(false)
    one.info.value = tableAt(1)
    await nextTick()
    expect(one.values.value).toEqual(with9)
  })
})
