import { readFileSync } from 'node:fs'
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

/** Answers of the newest file that were faults of our own: when, what was asked, and the id it is known by. */
export function faultsLogged(folder: string): string[] {
  let text: string
  try {
    text = readFileSync(join(folder, 'logs', 'requests.log'), 'utf8')
  } catch {
    return []
  }
  return text.split('\n').flatMap((line) => {
    try {
      const { time, method, path, status, id } = JSON.parse(line) as Record<string, string | number>
      return status === 500 ? [`${time}, ${method} ${path}, id ${id}`] : []
    } catch {
      // The last line may be cut off.
      return []
    }
  })
}
