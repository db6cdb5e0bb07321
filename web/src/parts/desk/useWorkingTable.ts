import { useManualRefHistory } from '@vueuse/core'
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import type { Matrix, TableInfo } from '@yuzumix/core'

/** What is worked on: the cells, which of them were last set by hand, and the percent beside a trim that adds. */
interface Work {
  values: Matrix
  byHand: boolean[][]
  global: number
}
interface Draft extends Work {
  parent: number
}

/** Who made an edit: a person's own, or one that was suggested. */
export type Editor = 'hand' | 'suggestion'

const LONGEST_HISTORY = 200
const draftKey = (id: string): string => `yuzumix.draft.${id}`
const none = (values: Matrix): boolean[][] => values.map((cells) => cells.map(() => false))

/**
 * The values being worked on, over the latest revision: undo, redo, and a draft in this browser that survives a reload
 * until it is saved as a revision or the table moves on.
 */
export function useWorkingTable(info: Ref<TableInfo | null>) {
  const saved = computed<Matrix>(() => info.value?.table.values ?? [])
  const savedGlobal = computed(() => info.value?.table.global ?? 0)
  const parent = computed(() => info.value?.revisions.at(-1)?.n ?? 0)
  const work = shallowRef<Work>({ values: [], byHand: [], global: 0 })
  const { commit, clear, undo, redo, canUndo, canRedo } = useManualRefHistory(work, { capacity: LONGEST_HISTORY })
  const values = computed(() => work.value.values)
  const global = computed(() => work.value.global)
  const differs = (row: number, column: number): boolean => values.value[row]?.[column] !== saved.value[row]?.[column]
  /** Whether a cell holds what somebody typed, pasted or drew since the last save. */
  const isByHand = (row: number, column: number): boolean =>
    differs(row, column) && (work.value.byHand[row]?.[column] ?? false)
  const editedCount = computed(() =>
    values.value.reduce((sum, cells, row) => sum + cells.filter((_, column) => differs(row, column)).length, 0),
  )
  /** Of those, how many hold what was suggested. */
  const takenCount = computed(() =>
    values.value.reduce(
      (sum, cells, row) => sum + cells.filter((_, column) => differs(row, column) && !isByHand(row, column)).length,
      0,
    ),
  )
  const isEdited = computed(() => editedCount.value > 0 || global.value !== savedGlobal.value)
  const restored = ref(false)

  watch(
    () => [info.value?.id, parent.value],
    () => {
      const draft = readDraft(info.value?.id, parent.value, saved.value)
      restored.value = draft !== null
      work.value = draft ?? { values: saved.value, byHand: none(saved.value), global: savedGlobal.value }
      // The history begins with what lies on the desk now.
      commit()
      clear()
    },
    { immediate: true },
  )
  watch(work, (now) => {
    if (!info.value) return
    if (!isEdited.value) localStorage.removeItem(draftKey(info.value.id))
    else localStorage.setItem(draftKey(info.value.id), JSON.stringify({ parent: parent.value, ...now } satisfies Draft))
  })

  function put(next: Work): void {
    work.value = next
    commit()
  }
  /** Takes new values as one step of the history. */
  function edit(next: Matrix, editor: Editor = 'hand'): void {
    const before = work.value
    if (JSON.stringify(next) === JSON.stringify(before.values)) return
    const byHand = next.map((cells, row) =>
      cells.map((value, column) =>
        value === before.values[row]?.[column] ? (before.byHand[row]?.[column] ?? false) : editor === 'hand',
      ),
    )
    put({ ...before, values: next, byHand })
  }
  /** Takes another percent beside the table as one step of the history. */
  function setGlobal(percent: number): void {
    if (percent !== global.value) put({ ...work.value, global: percent })
  }
  return {
    values,
    global,
    saved,
    parent,
    differs,
    isByHand,
    editedCount,
    takenCount,
    isEdited,
    restored,
    edit,
    setGlobal,
    undo,
    redo,
    canUndo,
    canRedo,
  }
}

function readDraft(id: string | undefined, parent: number, saved: Matrix): Work | null {
  try {
    const draft = JSON.parse(localStorage.getItem(draftKey(id ?? '')) ?? 'null') as Partial<Draft> | null
    const fits = (cells: unknown[][] | undefined): boolean =>
      cells?.length === saved.length && cells.every((row, k) => row.length === saved[k]!.length)
    if (!draft || draft.parent !== parent || !fits(draft.values)) return null
    // A draft from before it was known by whom a cell was set counts as made by hand: it is not overwritten unasked.
    const byHand = fits(draft.byHand) ? draft.byHand! : saved.map((cells) => cells.map(() => true))
    return { values: draft.values!, byHand, global: draft.global ?? 0 }
  } catch {
    return null
  }
}
