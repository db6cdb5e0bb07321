import { useWebSocket } from '@vueuse/core'
import { computed, type Ref } from 'vue'
import type { JobNews, JobPart } from '@yuzumix/core'
import { socketUrl } from '@/api/client'
import { useHandling } from './handling'
import { useJob } from './openJob'

/** ms until a stream that was cut is taken up again. */
const AGAIN_AFTER = 1000

/**
 * Keeps the open job in step with what is done to it elsewhere: another window, a phone, a script, the bench. Whoever did it,
 * what changed is asked for anew; after the link was cut, everything is.
 *
 * @param job its id; nothing is heard while it is empty
 */
export function useNews(job: Ref<string>): void {
  const open = useJob()
  const handling = useHandling()
  /** parts that changed and were not asked for yet; one round of asking at a time */
  const waiting = new Set<JobPart>()
  let isAsking = false

  async function ask(parts: readonly JobPart[]): Promise<void> {
    parts.forEach((part) => waiting.add(part))
    if (isAsking) return
    isAsking = true
    try {
      while (waiting.size) {
        const now = [...waiting]
        waiting.clear()
        await Promise.all([open.reload(now), handling.hear(now)])
      }
    } catch {
      // The next news, or the next link, brings it.
    } finally {
      isAsking = false
    }
  }
  useWebSocket<string>(
    computed(() => (job.value ? socketUrl(`/jobs/${encodeURIComponent(job.value)}/news`) : undefined)),
    {
      autoReconnect: { delay: AGAIN_AFTER },
      onConnected() {
        // What came before the link is not told: what is on the page already may be older.
        if (open.state === 'ready')
          void ask(['job', 'sets', 'runs', 'tables', 'handling', 'entries', 'reports', 'bench'])
      },
      onMessage: (_socket, event: MessageEvent<string>) => void ask((JSON.parse(event.data) as JobNews).changed),
    },
  )
}
