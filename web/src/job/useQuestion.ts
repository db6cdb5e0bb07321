import { computed, ref, shallowRef, watch } from 'vue'
import type { JobGround } from '@yuzumix/core'
import { useHandling } from './handling'
import { useJob } from './openJob'

/** What the questions of the open job stand on, as the page has it; null without one. */
function useGround() {
  const open = useJob()
  const handling = useHandling()
  return computed<JobGround | null>(() => {
    const { job, sets, runs, tables } = open
    return job && { job, sets, runs, tables, complaints: handling.complaints }
  })
}

/**
 * A question of the open job, put together anew when what it stands on changes; the same question again sets nothing off.
 *
 * @param put puts it together, null for none; a fault is told, and the last question that could stand stays
 * @param hangsOn what else it hangs on
 */
export function useQuestion<Q extends object>(
  put: (ground: JobGround) => Promise<Q | null> | Q | null,
  hangsOn: () => unknown = () => null,
) {
  const ground = useGround()
  const question = shallowRef<Q | null>(null)
  const fault = ref('')
  let key = 'null'
  let round = 0
  function take(next: Q | null): void {
    fault.value = ''
    const now = JSON.stringify(next)
    if (now === key) return
    key = now
    // Plain, as it goes to a worker.
    question.value = JSON.parse(now) as Q | null
  }
  watch(
    [ground, hangsOn],
    async ([now]) => {
      const mine = ++round
      try {
        const asked = now && put(now)
        const next = asked instanceof Promise ? await asked : asked
        if (mine === round) take(next)
      } catch (error) {
        if (mine === round) fault.value = (error as Error).message
      }
    },
    { immediate: true },
  )
  return { question, fault }
}
