import type { WebSocket } from 'ws'
import type { JobNews } from '@yuzumix/core'
import type { Store } from '../store/database'

/** Bytes that may wait for who reads nothing. */
const MOST_WAITING = 64 * 1024

/** Tells a watcher what changes of a job, as long as it listens. */
export function tellNews({ changes }: Store, job: string, client: WebSocket): void {
  const unlisten = changes.listen(({ job: of, parts }) => {
    const news: JobNews = { changed: parts }
    if (of !== job || client.readyState !== client.OPEN) return
    if (client.bufferedAmount > MOST_WAITING) client.terminate()
    else client.send(JSON.stringify(news))
  })
  client.on('close', unlisten)
  client.on('error', () => client.terminate())
}
