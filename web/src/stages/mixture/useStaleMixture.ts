import { computed, type Ref } from 'vue'
import {
  AT_LOAD,
  staleMixture,
  type LoadGrid,
  type RunInfo,
  type Stale,
  type TableHistory,
  setsSpark,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { useJob } from '@/job/openJob'
import { useLatest } from '@/job/useLatest'

/** % of plate about a row in which a sweep speaks for it. */
const NEAR = 12

/** Nodes whose mixture was measured before the spark moved there by more than is let pass. */
export function useStaleMixture(grid: Ref<LoadGrid | null>, runs: Ref<readonly RunInfo[]>) {
  const open = useJob()
  const histories = useLatest<TableHistory[]>(
    [],
    () => [open.tables, runs.value],
    async () => {
      const moved = open.tables.some((one) => setsSpark(one.table) && one.revisions.length > 1)
      const oldest = runs.value.map((run) => run.createdAt).sort()[0]
      return moved && oldest ? api.histories(open.job!.id, { since: oldest }) : []
    },
    notifyProblem,
  )
  /** When the newest run near a load was made. */
  function newestNear(load: number): string {
    const near = runs.value.filter((run) => run.facts?.stop == null || Math.abs(run.facts.stop - load) <= NEAR)
    return (near.length ? near : runs.value).reduce((last, run) => (run.createdAt > last ? run.createdAt : last), '')
  }
  const stale = computed<(Stale | null)[][]>(() => {
    const { rpm, load, loadAxis } = grid.value ?? { rpm: [], load: [], loadAxis: 'throttle' }
    if (histories.value.length === 0) return []
    return load.map((at) => {
      // A row of manifold pressure has no throttle opening: any load there counts.
      const plate = loadAxis === 'throttle' ? at : Math.max(AT_LOAD, at)
      const newest = newestNear(at)
      return rpm.map((speed) => {
        const one = staleMixture(histories.value, speed, plate)
        return one && newest < one.before ? one : null
      })
    })
  })
  return { stale }
}
