import { computed, shallowRef, watch, type Ref } from 'vue'
import { cellsSince, madeOnNewest, movedSince, type RunInfo, type TableInfo, type TableSince } from '@yuzumix/core'
import { api } from '@/api/client'
import { useJob } from '@/job/openJob'

/** A table that moved since the runs were made, and the revision that they were made on. */
interface Moved extends TableSince {
  id: string
  revision: number
}

/**
 * Which of some runs a change may rest on: those made on the newest state of the fuel tables, with what was changed in the
 * tables since, so that the same correction is not taken twice.
 */
export function useMadeOn(runs: Ref<RunInfo[]>) {
  const open = useJob()
  const made = computed(() => madeOnNewest(runs.value, open.fuelTables))
  const newest = computed<RunInfo[]>((before) => {
    const now = made.value.runs
    // The same runs again must not set off another solve.
    return before && before.length === now.length && before.every((run, k) => run === now[k]) ? before : now
  })
  const moved = computed(() => movedSince(open.fuelTables, made.value.revisions))
  /** null until the older states are here */
  const since = shallowRef<Moved[] | null>(null)
  const problem = shallowRef('')
  let round = 0
  watch(
    () => moved.value.map(({ info: { id, revisions }, n }) => `${id} ${n} ${revisions.at(-1)!.n}`).join(),
    async () => {
      const mine = ++round
      since.value = null
      problem.value = ''
      try {
        const found = await Promise.all(
          moved.value.map(async ({ info: { job, id, cylinder, table }, n }): Promise<Moved> => {
            return { id, revision: n, cylinder, then: (await api.revision(job, id, n)).table, now: table }
          }),
        )
        if (mine === round) since.value = found
      } catch (error) {
        if (mine === round) problem.value = (error as Error).message
      }
    },
    { immediate: true },
  )

  /** What is to be known of a table before its change is looked at; empty where the runs were made on it as it is. */
  function note(info: TableInfo): string {
    const { older } = made.value
    const left = older.length
      ? ` ${older.length} ${older.length === 1 ? 'run was' : 'runs were'} made on older revisions and ${older.length === 1 ? 'is' : 'are'} left out.`
      : ''
    const own = since.value?.find((one) => one.id === info.id)
    const latest = info.revisions.at(-1)!.n
    if (own) {
      const count = cellsSince(own)
      return `Measured on revision ${own.revision}; ${count} ${count === 1 ? 'change is' : 'changes are'} in revision ${latest}: measure again.${left}`
    }
    const others = (since.value ?? []).filter((one) => one.id !== info.id)
    if (others.length) return `Other fuel tables were changed since these runs: measure again.${left}`
    return left.trim()
  }
  return { runs: newest, since, problem, note }
}
