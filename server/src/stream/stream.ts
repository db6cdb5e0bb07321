import { randomUUID } from 'node:crypto'
import type { IncomingMessage } from 'node:http'
import type { Duplex } from 'node:stream'
import { WebSocketServer, type WebSocket } from 'ws'
import {
  isRefusal,
  Refusal,
  benchWishSchema,
  checkInput,
  asksForReason,
  isGateRefusal,
  type BenchMessage,
  type BenchWish,
  type RigSample,
} from '@yuzumix/core'
import { fullDiskWords, isDiskFull } from '../folder/space'
import type { Access } from '../access/access'
import { standingOf, type Standing } from '../http/entry'
import { isOwnPage } from '../http/guard'
import type { Benches } from '../sessions/benches'
import type { Store } from '../store/database'
import { tellNews } from './newsStream'
import type { BenchSession } from '../sessions/session'

const BENCH = /^\/api\/v1\/jobs\/([^/?]+)\/bench\/stream(?:\?together=(\d{1,6}))?$/
const NEWS = /^\/api\/v1\/jobs\/([^/?]+)\/news$/
const LARGEST_MESSAGE = 64 * 1024
/** Bytes that may wait for a slow watcher; beyond, readings are left out and it is told how many. */
const MOST_WAITING = 512 * 1024
/** Code with which a stream is closed when its bench is let go or replaced. */
const BENCH_GONE = 4000
/** Code with which a watcher is dropped that reads nothing. */
const TOO_SLOW = 4001
/** Code with which the streams of one are closed who is let in no more. */
const LET_OUT = 4003
/** ms that one may read nothing, and ms that its connection has to end by itself. */
const [MOST_STUCK, LAST_WORDS] = [10_000, 5000]
/** ms over which readings may be sent together. */
const MOST_TOGETHER = 1000

/**
 * Takes upgrades of a job's streams: of its news; and of its bench, readings at 50 Hz and news out, wishes of the driver in.
 */
export function streams(store: Store, benches: Benches, access: Access, open: boolean) {
  const names = (): string[] => (open ? access.names() : [])
  const server = new WebSocketServer({ noServer: true, maxPayload: LARGEST_MESSAGE })
  const comers = new Map<WebSocket, IncomingMessage>()
  const unlisten = access.listen(() => {
    for (const [client, request] of comers)
      if (open && standingOf(access, request) === null) client.close(LET_OUT, 'let in no more')
  })
  return {
    upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
      // A socket that breaks here belongs to nobody yet; unheard, its error would end the process.
      socket.on('error', () => socket.destroy())
      const refuse = (status: string): void => void socket.end(`HTTP/1.1 ${status}\r\nConnection: close\r\n\r\n`)
      if (!isOwnPage(request.headers, names)) return refuse('403 Forbidden')
      const standing: Standing = open ? standingOf(access, request) : 'here'
      if (standing === null) return refuse('401 Unauthorized')
      const url = request.url ?? ''
      const letIn = (attached: (client: WebSocket) => void): void =>
        server.handleUpgrade(request, socket, head, (client) => {
          comers.set(client, request)
          client.on('close', () => comers.delete(client))
          attached(client)
        })
      const job = jobOfPath(NEWS, url)
      if (job) return letIn((client) => tellNews(store, job, client))
      const session = benches.of(jobOfPath(BENCH, url))
      if (!session) return refuse('404 Not Found')
      letIn((client) => attach(session, client, together(url), standing !== 'watch'))
    },
    close(): void {
      unlisten()
      for (const client of server.clients) client.terminate()
      server.close()
    },
  }
}

/** Id of the job in the address of a stream; empty where there is none, or it cannot be decoded. */
function jobOfPath(path: RegExp, url: string): string {
  try {
    return decodeURIComponent(path.exec(url)?.[1] ?? '')
  } catch {
    return ''
  }
}

/** ms of readings that a watcher wants in one message; 0 for each in its own. */
const together = (url: string): number => Math.min(MOST_TOGETHER, Number(BENCH.exec(url)?.[2] ?? 0))

const texts = new WeakMap<RigSample, string>()
/** A reading as JSON: written once, however many watch. */
function textOf(sample: RigSample): string {
  const known = texts.get(sample)
  if (known !== undefined) return known
  const text = JSON.stringify(sample)
  texts.set(sample, text)
  return text
}

/** Tells a watcher that reads nothing why it is dropped, and drops it. */
function dropSlow(client: WebSocket): void {
  if (client.readyState !== client.OPEN) return
  client.close(TOO_SLOW, 'this watcher reads nothing')
  setTimeout(() => client.terminate(), LAST_WORDS).unref()
}

/** @param gather ms of readings that go in one message @param mayDrive false for who only watches */
function attach(session: BenchSession, client: WebSocket, gather: number, mayDrive: boolean): void {
  const id = randomUUID()
  let left = 0
  /** s since which a watcher reads nothing; null while it does */
  let stuckSince: number | null = null
  let gathered: string[] = []
  let due: ReturnType<typeof setTimeout> | undefined
  const writeText = (text: string): void => {
    if (client.readyState === client.OPEN) client.send(text)
  }
  const write = (message: BenchMessage): void => writeText(JSON.stringify(message))
  const flush = (): void => {
    clearTimeout(due)
    due = undefined
    if (gathered.length === 0) return
    writeText(`{"samples":[${gathered.join()}]${left > 0 ? `,"left":${left}` : ''}}`)
    ;[gathered, left] = [[], 0]
  }
  /** Nothing overtakes the readings before it. */
  const send = (message: BenchMessage): void => {
    flush()
    write(message)
  }
  const unlisten = session.listen(({ sample, news, end }) => {
    if (end) return client.close(BENCH_GONE, 'the bench was let go')
    if (news) return send({ news: { ...news, you: news.driver === id } })
    if (!sample) return
    if (client.bufferedAmount > MOST_WAITING) {
      left++
      stuckSince ??= performance.now()
      if (performance.now() - stuckSince > MOST_STUCK) dropSlow(client)
      return
    }
    stuckSince = null
    if (gather > 0) {
      gathered.push(textOf(sample))
      due ??= setTimeout(flush, gather)
      return
    }
    writeText(`{"sample":${textOf(sample)}${left > 0 ? `,"left":${left}` : ''}}`)
    left = 0
  })
  send({
    hello: { name: session.link.name, cylinders: session.link.cylinders, redline: session.link.redline, you: id },
  })
  send({ news: { ...session.news(), you: false }, controls: session.link.controls() })
  client.on('message', (data: Buffer) => {
    if (mayDrive) void hear(session, id, data.toString(), send)
    else send({ refused: 'You are let in to watch: nothing is set from here.' })
  })
  client.on('close', () => {
    unlisten()
    clearTimeout(due)
    // A driver that vanishes mid-run: the run so far is kept, the engine rests.
    void session.letGo(id).catch(() => undefined)
  })
  client.on('error', () => client.terminate())
}

/** @throws Refusal 'not-json' */
function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    throw new Refusal('not-json', 'The message is not JSON. Send a wish as JSON.')
  }
}

async function hear(
  session: BenchSession,
  id: string,
  text: string,
  send: (message: BenchMessage) => void,
): Promise<void> {
  let wish: BenchWish | undefined
  try {
    wish = checkInput(benchWishSchema, parsed(text))
    switch (wish.act) {
      case 'drive':
        session.drive(id)
        break
      case 'let go':
        await session.letGo(id)
        break
      case 'set':
        await session.set(id, wish.controls, wish.override)
        break
      case 'limits':
        await session.limit(id, wish.limits, wish.override)
        break
      case 'run':
        await session.run(id, wish.script, wish.name, wish.override)
        break
      case 'record':
        await session.record(id, wish.override)
        break
      case 'store again':
        await session.storeAgain()
        break
      case 'stop':
        await session.stop(id, { reason: 'aborted', text: 'stopped by the driver' })
    }
    send({ controls: session.link.controls() })
  } catch (error) {
    const refused = isRefusal(error)
      ? error.message
      : isDiskFull(error)
        ? fullDiskWords(0)
        : 'Something went wrong at the bench.'
    const isGate = isGateRefusal(error)
    if (isGate) await session.noteRefused(error)
    send({ refused, ...(isGate && asksForReason(error) && { asks: wish }), controls: session.link.controls() })
  }
}
