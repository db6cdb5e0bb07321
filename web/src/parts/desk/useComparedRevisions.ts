import { ref, shallowRef, watch, type Ref } from 'vue'
import type { Table, TableInfo } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'

/** Two revisions of one table side by side: their numbers (null for none), and the tables once they are here. */
export function useComparedRevisions(info: Ref<TableInfo | null>) {
  const compared = ref<[number, number] | null>(null)
  const pair = shallowRef<[Table, Table] | null>(null)
  // Two revisions of one table are no difference of another.
  watch(
    () => info.value?.id,
    () => (compared.value = null),
    { flush: 'sync' },
  )
  watch(compared, async (now) => {
    pair.value = null
    const table = info.value
    if (!now || !table) return
    try {
      const both = await Promise.all(now.map((n) => api.revision(table.job, table.id, n)))
      // Another table, or another pair, may be asked for by now.
      if (compared.value === now && info.value?.id === table.id) pair.value = [both[0]!.table, both[1]!.table]
    } catch (error) {
      notifyProblem(error)
    }
  })
  return { compared, pair }
}
