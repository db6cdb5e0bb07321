import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Express } from 'express'
import { pino } from 'pino'
import request, { type Response, type Test } from 'supertest'
import { answersFit } from './answersFit'
import { openAccess } from './access/access'
import { createApp } from './app'
import { openBenches, type Benches } from './sessions/benches'
import { hurriedClock, type Clock } from './rigs/clock'
import { openPool } from './pool/pool'
import { openStore, type Store } from './store/database'

export interface TestServer {
  /** with every answer held against the contract; `stop` fails when one did not fit */
  app: Express
  /** the same without that, for its routes */
  routes: Express
  store: Store
  benches: Benches
  folder: string
  call(): ReturnType<typeof request>
  /** makes a job and gives its id */
  newJob(body?: object): Promise<string>
  /** sends a log to a job */
  upload(job: string, content: string | Buffer, fields?: Record<string, string>): Test
  /** opens what is in the folder, after its store was closed */
  open(): Promise<void>
  /** closes everything and opens it again on the same folder, as a restart does */
  restart(): Promise<void>
  stop(): Promise<void>
}

export const root = join(__dirname, '../..')
export const api = (path: string): string => `/api/v1${path}`

/** A short log at 50 Hz. */
export const CSV = `time,rpm,throttle,lambda\n${Array.from({ length: 60 }, (_, i) => `${i / 50},${3000 + i},30,0.9${i % 10}`).join('\n')}\n`
/** A small trim table. */
export const TABLE = {
  kind: 'fuel trim',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [2000, 4000, 6000],
  load: [20, 100],
  values: [
    [0, 1, 2],
    [3, 4, 5],
  ],
}

/** Reads an answer as bytes, for supertest's `parse`. */
export function asBytes(response: Response, done: (error: Error | null, body: Buffer) => void): void {
  const parts: Buffer[] = []
  const stream = response as unknown as NodeJS.ReadableStream
  stream.on('data', (part: Buffer) => parts.push(part))
  stream.on('end', () => done(null, Buffer.concat(parts)))
}

/** Rigs live so many times as fast as the clock on the wall. */
const RIG_TIMES = 40

/** The whole application on a fresh folder, with the built worker; for tests only. */
export async function testServer(handed?: Clock): Promise<TestServer> {
  const hurried = hurriedClock(RIG_TIMES)
  const clock = handed ?? hurried
  const folder = await mkdtemp(join(tmpdir(), 'yuzumix-test-'))
  const pool = openPool(join(root, 'server/dist/worker.js'))
  const server = {} as TestServer
  const misfits: string[] = []
  const open = async (): Promise<void> => {
    server.store = await openStore(folder)
    server.benches = openBenches(clock)
    server.routes = createApp({
      store: server.store,
      benches: server.benches,
      pool,
      root,
      version: 'test',
      access: openAccess(folder),
      open: false,
      log: pino({ level: 'silent' }),
    })
    server.app = answersFit(server.routes, (what) => misfits.push(what))
  }
  await open()
  return Object.assign(server, {
    folder,
    open,
    call: () => request(server.app),
    async newJob(body: object = { title: 'A job' }) {
      return (await server.call().post(api('/jobs')).send(body).expect(201)).body.id as string
    },
    upload(job: string, content: string | Buffer, fields: Record<string, string> = {}) {
      const post = server.call().post(api(`/jobs/${job}/runs`))
      for (const [name, value] of Object.entries(fields)) void post.field(name, value)
      return post.attach('file', Buffer.from(content), 'log.csv')
    },
    async restart() {
      await server.benches.closeAll()
      await server.store.close()
      await open()
    },
    async stop() {
      await server.benches.closeAll()
      hurried.end()
      await pool.close()
      await server.store.close()
      await rm(folder, { recursive: true, force: true })
      if (misfits.length) throw new Error(`Answers do not fit the contract:\n${[...new Set(misfits)].join('\n')}`)
    },
  })
}
