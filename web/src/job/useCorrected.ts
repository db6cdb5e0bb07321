import { computed, shallowRef, watch, type Ref } from 'vue'
import { firstStates, madeOnNewest, type RunInfo, type Table, type TableSince } from '@yuzumix/core'
import { api } from '@/api/client'
import { useJob } from './openJob'

/**
 * What was corrected in the job's fuel tables before each of some lists of runs was made: every table as it was when
 * the first run was made, and as it stood then. null until the older states are here; a state that cannot be had is left out, which makes the
 * field only less sure.
 */
export function useCorrected(lists: Ref<readonly RunInfo[][]>): Ref<TableSince[][] | null> {
  const open = useJob()
  /** by list: table, cylinder, first and present revision, where they differ */
  const wanted = computed(() => {
    const began = firstStates(open.runs, open.fuelTables)
    return lists.value.map((runs) => {
      const { revisions } = madeOnNewest(runs, open.fuelTables)
      return open.fuelTables.flatMap(({ job, id, cylinder }) => {
        const [first, now] = [began.get(id)!, revisions.get(id)]
        return now === undefined || now === first ? [] : [{ job, id, cylinder, first, now }]
      })
    })
  })
  const corrected = shallowRef<TableSince[][] | null>(null)
  let round = 0
  watch(
    () => JSON.stringify(wanted.value),
    async () => {
      const mine = ++round
      const states = new Map<string, Promise<Table>>()
      const stateOf = (job: string, id: string, n: number): Promise<Table> => {
        const key = `${id} ${n}`
        const state = states.get(key) ?? api.revision(job, id, n).then((one) => one.table)
        states.set(key, state)
        return state
      }
      if (wanted.value.flat().length === 0) {
        corrected.value = wanted.value.map(() => [])
        return
      }
      corrected.value = null
      const found = await Promise.all(
        wanted.value.map((tables) =>
          Promise.all(
            tables.map(({ job, id, cylinder, first, now }) =>
              Promise.all([stateOf(job, id, first), stateOf(job, id, now)]).then(
                ([then, present]): TableSince[] => [{ cylinder, then, now: present }],
                () => [],
              ),
            ),
          ).then((all) => all.flat()),
        ),
      )
      if (mine === round) corrected.value = found
    },
    { immediate: true },
  )
  return corrected
}
