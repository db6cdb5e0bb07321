import { useManualRefHistory } from '@vueuse/core'
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import type { Matrix, TableInfo } from '@yuzumix/core'
import { joinWork } from './joinWork'

/** What is worked on: the cells, which of them were last set by hand, and the percent beside a trim that adds. */
interface Work {
  values: Matrix
  byHand: boolean[][]
  global: number
}
interface Draft extends Work {
  parent: number
  /** values and trim beside them that it was begun on: another window may save meanwhile */
  base?: Matrix
  baseGlobal?: number
}

/** What somebody saved while a table was being worked on. */
export interface SavedMeanwhile {
  revision: number
  /** cells that were saved otherwise, and those that are changed here, too */
  theirs: number
  both: number
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
  /** what was saved elsewhere under what lies on the desk; null for nothing */
  const meanwhile = shallowRef<SavedMeanwhile | null>(null)
  /** what the work was begun on */
  let begun: { id: string | undefined; values: Matrix; global: number } = { id: undefined, values: [], global: 0 }

  watch(
    () => [info.value?.id, parent.value],
    () => {
      const id = info.value?.id
      const onDesk =
        begun.id === id && id !== undefined ? { ...work.value, base: begun.values, baseGlobal: begun.global } : null
      const draft = onDesk ?? readDraft(id, parent.value, saved.value)
      const plain = { values: saved.value, byHand: none(saved.value), global: savedGlobal.value }
      const joined = draft && joinWork(draft.base, saved.value, draft.values)
      const isOwn = draft !== null && (isChanged(draft.base, draft.values) || draft.global !== draft.baseGlobal)
      restored.value = !onDesk && isOwn
      work.value = joined && isOwn ? joinedWork(draft, joined.values, saved.value, savedGlobal.value) : plain
      // What was saved from this very desk is nothing that came in between.
      const isLeft = isChanged(saved.value, work.value.values) || work.value.global !== savedGlobal.value
      meanwhile.value =
        joined && isLeft && joined.theirs ? { revision: parent.value, theirs: joined.theirs, both: joined.both } : null
      begun = { id, values: saved.value, global: savedGlobal.value }
      // The history begins with what lies on the desk now.
      commit()
      clear()
    },
    { immediate: true },
  )
  watch(work, (now) => {
    if (!info.value) return
    if (!isEdited.value) localStorage.removeItem(draftKey(info.value.id))
    else
      localStorage.setItem(
        draftKey(info.value.id),
        JSON.stringify({
          parent: parent.value,
          base: saved.value,
          baseGlobal: savedGlobal.value,
          ...now,
        } satisfies Draft),
      )
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
    meanwhile,
    edit,
    setGlobal,
    undo,
    redo,
    canUndo,
    canRedo,
  }
}

/** Work with what it was begun on. */
type Begun = Work & { base: Matrix; baseGlobal: number }

const isChanged = (one: Matrix, other: Matrix): boolean =>
  other.some((cells, row) => cells.some((value, column) => value !== one[row]?.[column]))

/** Work on top of what was saved meanwhile: by hand stays what was, of the trim beside it one's own. */
function joinedWork(draft: Begun, values: Matrix, saved: Matrix, savedGlobal: number): Work {
  return {
    values,
    byHand: values.map((cells, row) =>
      cells.map((value, column) => value !== saved[row]![column] && (draft.byHand[row]?.[column] ?? false)),
    ),
    global: draft.global !== draft.baseGlobal ? draft.global : savedGlobal,
  }
}

function readDraft(id: string | undefined, parent: number, saved: Matrix): Begun | null {
  try {
    const draft = JSON.parse(localStorage.getItem(draftKey(id ?? '')) ?? 'null') as Partial<Draft> | null
    const fits = (cells: unknown[][] | undefined): boolean =>
      cells?.length === saved.length && cells.every((row, k) => row.length === saved[k]!.length)
    // A draft from before its base was kept is good for its own revision only.
    const base = draft?.base ?? (draft?.parent === parent ? saved : undefined)
    if (!draft || !fits(draft.values) || !fits(base)) return null
    // A draft from before it was known by whom a cell was set counts as made by hand: it is not overwritten unasked.
    const byHand = fits(draft.byHand) ? draft.byHand! : saved.map((cells) => cells.map(() => true))
    return {
      values: draft.values!,
      byHand,
      global: draft.global ?? 0,
      base: base!,
      baseGlobal: draft.baseGlobal ?? draft.global ?? 0,
    }
  } catch {
    return null
  }
}
