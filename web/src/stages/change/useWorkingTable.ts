import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import type { Matrix, TableInfo } from '@yuzumix/core'

interface Draft {
  parent: number
  values: Matrix
}

const LONGEST_HISTORY = 200
const draftKey = (id: string): string => `yuzumix.draft.${id}`

/**
 * The values being worked on, over the latest revision: undo, redo, and a draft in this browser that survives a reload
 * until it is saved as a revision or the table moves on.
 */
export function useWorkingTable(info: Ref<TableInfo | null>) {
  const values = shallowRef<Matrix>([])
  const past = shallowRef<Matrix[]>([])
  const future = shallowRef<Matrix[]>([])
  const saved = computed<Matrix>(() => info.value?.table.values ?? [])
  const parent = computed(() => info.value?.revisions.at(-1)?.n ?? 0)
  const differs = (row: number, column: number): boolean => values.value[row]?.[column] !== saved.value[row]?.[column]
  const editedCount = computed(() =>
    values.value.reduce(
      (sum, cells, row) => sum + cells.filter((value, column) => value !== saved.value[row]?.[column]).length,
      0,
    ),
  )
  const restored = ref(false)

  watch(
    () => [info.value?.id, parent.value],
    () => {
      ;[past.value, future.value] = [[], []]
      const draft = readDraft(info.value?.id, parent.value, saved.value)
      restored.value = draft !== null
      values.value = draft ?? saved.value
    },
    { immediate: true },
  )
  watch(values, (now) => {
    if (!info.value) return
    if (editedCount.value === 0) localStorage.removeItem(draftKey(info.value.id))
    else
      localStorage.setItem(
        draftKey(info.value.id),
        JSON.stringify({ parent: parent.value, values: now } satisfies Draft),
      )
  })

  /** Takes new values as one step of the history. */
  function edit(next: Matrix): void {
    if (JSON.stringify(next) === JSON.stringify(values.value)) return
    past.value = [...past.value, values.value].slice(-LONGEST_HISTORY)
    future.value = []
    values.value = next
  }
  function undo(): void {
    const last = past.value.at(-1)
    if (!last) return
    future.value = [values.value, ...future.value]
    past.value = past.value.slice(0, -1)
    values.value = last
  }
  function redo(): void {
    const [next, ...rest] = future.value
    if (!next) return
    past.value = [...past.value, values.value]
    future.value = rest
    values.value = next
  }
  return {
    values,
    saved,
    parent,
    differs,
    editedCount,
    restored,
    edit,
    undo,
    redo,
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
  }
}

function readDraft(id: string | undefined, parent: number, saved: Matrix): Matrix | null {
  try {
    const draft = JSON.parse(localStorage.getItem(draftKey(id ?? '')) ?? 'null') as Draft | null
    const fits =
      draft &&
      draft.parent === parent &&
      draft.values.length === saved.length &&
      draft.values.every((cells, row) => cells.length === saved[row]!.length)
    return fits ? draft.values : null
  } catch {
    return null
  }
}
