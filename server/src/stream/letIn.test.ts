import { once } from 'node:events'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import { pino } from 'pino'
import request from 'supertest'
import { WebSocket } from 'ws'
import { ALL_CALLS, type BenchMessage } from '@yuzumix/core'
import { openAccess, type Access } from '../access/access'
import { createApp } from '../app'
import { openPool, type WorkPool } from '../pool/pool'
import { testBench, type TestBench } from '../testBench'
import { api, root } from '../testServer'
import { streams } from './stream'

/** A request that a relay passes on comes from beyond this machine, wherever it is sent from. */
const BEYOND = { via: '1.1 relay' }

let bench: TestBench
let pool: WorkPool
let access: Access
let http: Server
let stream: ReturnType<typeof streams>
beforeAll(async () => {
  bench = await testBench()
  pool = openPool(join(root, 'server/dist/worker.js'))
  access = openAccess(bench.server.folder)
  await access.setPassphrase('over the mudflat')
  const { store, benches } = bench.server
  const log = pino({ level: 'silent' })
  const app = createApp({ store, benches, pool, root, version: 'test', access, open: true, log })
  stream = streams(store, benches, access, true)
  http = createServer(app).listen(0, '127.0.0.1')
  http.on('upgrade', stream.upgrade)
  await once(http, 'listening')
})
afterAll(async () => {
  stream.close()
  http.close()
  await pool.close()
  await bench.stop()
})

const cookieOf = (token: string | null) => ({ cookie: `yuzumix-entry=${token ?? ''}` })
const joined = (role: 'work' | 'watch') => cookieOf(access.join(access.makeCode(role).code))
/** Asks for a call with nothing in it, at names that nothing has. */
const ask = ({ method, path }: (typeof ALL_CALLS)[number], headers: object) =>
  request(http)
    [method](api(path.replace(/\{\w+\}/g, 'none')))
    .set({ ...BEYOND, ...headers })
const OPEN = ['/access', '/access/enter', '/access/join', '/health']

describe('beyond this machine', () => {
  it('who was not let in gets nothing of any call but whether they are, and the way in', async () => {
    for (const call of ALL_CALLS) {
      const { status, body } = await ask(call, {})
      if (!OPEN.includes(call.path))
        expect([call.name, status, body.type]).toEqual([call.name, 401, '/problems/passphrase-wanted'])
      else expect(status).not.toBe(403)
    }
    // A token that was made up.
    expect(
      (
        await ask(
          ALL_CALLS.find((one) => one.name === 'jobs')!,
          cookieOf('A'.repeat(43)),
        )
      ).status,
    ).toBe(401)
  })
  it('who watches changes nothing: every call that records or sets is refused, every other is answered', async () => {
    const watch = joined('watch')
    for (const call of ALL_CALLS) {
      if (OPEN.includes(call.path) || call.path === '/access/leave') continue
      const { status, body } = await ask(call, watch)
      const isOnlyWatching = body?.type === '/problems/only-watching'
      expect([call.name, isOnlyWatching]).toEqual([call.name, call.method !== 'get' && call.gate !== 'asks'])
      expect(status).not.toBe(401)
    }
  })
  it('the stream wants the same: nobody, one who watches, one who works, all let out at once', async () => {
    const job = await bench.server.newJob()
    await bench.connect(job, {}, false)
    const { port } = http.address() as AddressInfo
    const open = (headers: object) =>
      new WebSocket(`ws://127.0.0.1:${port}${api(`/jobs/${job}/bench/stream`)}`, { headers: { ...BEYOND, ...headers } })
    const [refused] = (await once(open({}), 'error')) as [Error]
    expect(refused.message).toMatch(/401/)

    const heard = (socket: WebSocket) => {
      const messages: BenchMessage[] = []
      socket.on('message', (data: Buffer) => messages.push(JSON.parse(data.toString()) as BenchMessage))
      return async (what: (one: BenchMessage) => boolean): Promise<BenchMessage> => {
        while (!messages.some(what)) await new Promise((resolve) => setTimeout(resolve, 2))
        return messages.find(what)!
      }
    }
    const [watching, working] = [open(joined('watch')), open(joined('work'))]
    const [watched, worked] = [heard(watching), heard(working)]
    await Promise.all([once(watching, 'open'), once(working, 'open')])
    await watched((one) => one.sample !== undefined)
    watching.send(JSON.stringify({ act: 'drive' }))
    expect((await watched((one) => one.refused !== undefined)).refused).toMatch(/let in to watch/)
    working.send(JSON.stringify({ act: 'drive' }))
    await worked((one) => one.news?.you === true)
    expect(bench.server.benches.of(job)!.news().driver).not.toBeNull()
    working.send('no JSON at all')
    expect((await worked((one) => one.refused !== undefined)).refused).toBe(
      'The message is not JSON. Send a wish as JSON.',
    )

    const ends = Promise.all([once(watching, 'close'), once(working, 'close')])
    expect(access.leaveAll()).toBeGreaterThanOrEqual(2)
    expect((await ends).map(([code]) => code as number)).toEqual([4003, 4003])
    while (bench.server.benches.of(job)!.news().driver !== null) await new Promise((resolve) => setTimeout(resolve, 2))
  })
})
