import { join } from 'node:path'
import { pino, type Logger } from 'pino'
import { createStream } from 'rotating-file-stream'

/** Files that are kept, and the size of each. */
const [FILES, SIZE] = [5, '5M'] as const

/** The log of requests in the folder `logs`: a line of JSON each, the oldest file let go when there are too many. */
export function requestLog(folder: string): Logger {
  const stream = createStream((n) => (n ? `requests.${String(n)}.log` : 'requests.log'), {
    path: join(folder, 'logs'),
    size: SIZE,
    rotate: FILES,
    history: 'requests.history',
  })
  // A disk that is full keeps nobody from working.
  stream.on('error', () => undefined)
  return pino({ level: 'info', base: null, timestamp: pino.stdTimeFunctions.isoTime, messageKey: 'what' }, stream)
}
