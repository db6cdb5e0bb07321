import type { IncomingMessage, Server, ServerResponse } from 'node:http'

/** ms without a byte after which an exchange is cut off, while a request is sent, and while an answer is read. */
export interface Patience {
  sending: number
  reading: number
}
const USUAL: Patience = { sending: 30_000, reading: 60_000 }

/** How far an exchange was when it was looked at last. */
interface Seen {
  response: ServerResponse
  bytes: number
  at: number
}

/**
 * Cuts off what stands still: a request whose body is begun and not gone on with, an answer that nobody reads. Work that takes long
 * is left alone: it is neither.
 *
 * @returns ends the watch
 */
export function cutStalled(server: Server, { sending, reading }: Patience = USUAL): () => void {
  const open = new Map<IncomingMessage, Seen>()
  server.on('request', (request: IncomingMessage, response: ServerResponse) => {
    open.set(request, { response, bytes: -1, at: performance.now() })
    response.on('close', () => open.delete(request))
  })
  const look = (): void => {
    const now = performance.now()
    for (const [request, seen] of open) {
      const { response } = seen
      const isSent = request.complete
      const isAnswered = response.headersSent && !response.writableFinished
      const { socket } = request
      const bytes = isSent ? socket.bytesWritten : socket.bytesRead
      const isMoving = bytes !== seen.bytes || (isSent && !isAnswered)
      if (isMoving) Object.assign(seen, { bytes, at: now })
      else if (now - seen.at > (isSent ? reading : sending)) socket.destroy()
    }
  }
  const timer = setInterval(look, Math.min(sending, reading) / 4)
  timer.unref()
  return () => clearInterval(timer)
}
