import { once } from 'node:events'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { WebSocket } from 'ws'
import {
  benchMessageSchema,
  checkInput,
  type BenchNews,
  type BenchState,
  type RigSample,
  type RunInfo,
} from '@yuzumix/core'
import { openAccess } from './access/access'
import { listRig, tickRigLine } from './acts/handling/rigLines'
import type { Clock } from './rigs/clock'
import { findJob } from './store/jobs'
import { streams } from './stream/stream'
import { api, testServer, type TestServer } from './testServer'

export const CURLEW = 'curlew-437-short-silencer'

/** A client of the stream that keeps what it hears. */
interface Watcher {
  socket: WebSocket
  samples: RigSample[]
  /** how many were heard of any kind */
  messages: number
  news: (BenchNews & { you: boolean })[]
  refused: string[]
  /** wishes that would be done for a reason */
  asks: unknown[]
  /** who it is, once it was told */
  me: string
  /** the bench was let go */
  isGone: boolean
  say(wish: object): void
  /** @param seconds of the wall, after which it is given up */
  until(what: () => boolean, seconds?: number): Promise<void>
}

export interface TestBench {
  server: TestServer
  http: Server
  /** lets ms of the rig's own time go by */
  pass(ms: number): Promise<void>
  /** Connects a rig, its sensors calibrated as in a workshop that has them set up. */
  connect(job: string, over?: object, calibrated?: boolean): Promise<BenchState>
  /** @param driver who says that they drive */
  post(job: string, path: string, body?: object, driver?: string): ReturnType<ReturnType<TestServer['call']>['post']>
  /** @param query of the stream's address */
  watcher(job: string, query?: string): Promise<Watcher>
  /** Ticks what nothing is run before. */
  tickGates(job: string): Promise<void>
  runsOf(job: string): Promise<RunInfo[]>
  stop(): Promise<void>
}

/** A server with benches and their stream; for tests only. Every message of the stream is held against the contract. */
export async function testBench(clock?: Clock): Promise<TestBench> {
  const server = await testServer(clock)
  const stream = streams(server.store, server.benches, openAccess(server.folder), false)
  const http = createServer(server.app).listen(0, '127.0.0.1')
  http.on('upgrade', stream.upgrade)
  await once(http, 'listening')
  const misfits = new Set<string>()

  const bench: TestBench = {
    server,
    http,
    pass: (ms) => server.benches.clock.wait(ms),
    post: (job, path, body = {}, driver = '') =>
      server
        .call()
        .post(api(`/jobs/${job}/bench/${path}`))
        .set('x-driver', driver)
        .send(body),
    async connect(job, over = {}, calibrated = true) {
      const { body } = await server
        .call()
        .put(api(`/jobs/${job}/bench`))
        .send({ maker: 'simulated', machine: CURLEW, coolantC: 84, ...over })
        .expect(201)
      await bench.tickGates(job)
      if (!calibrated) return body as BenchState
      const { link } = server.benches.of(job)!
      const plate = async (throttle: number): Promise<void> => {
        link.set({ throttle })
        await bench.pass(480)
      }
      await bench.post(job, 'calibrate/closed').expect(200)
      await plate(100)
      await bench.post(job, 'calibrate/open').expect(200)
      await plate(0)
      return (await bench.post(job, 'calibrate/free-air').expect(200)).body as BenchState
    },
    async watcher(job, query = '') {
      const { port } = http.address() as AddressInfo
      const socket = new WebSocket(`ws://127.0.0.1:${port}${api(`/jobs/${job}/bench/stream${query}`)}`)
      const heard: Watcher = {
        socket,
        samples: [],
        messages: 0,
        news: [],
        refused: [],
        asks: [],
        me: '',
        isGone: false,
        say: (wish) => socket.send(JSON.stringify(wish)),
        async until(what, seconds = 90) {
          const end = performance.now() + 1000 * seconds
          while (!what()) {
            if (performance.now() > end) throw new Error(`not in ${seconds} s; last news: ${heard.news.at(-1)?.said}`)
            await new Promise((resolve) => setTimeout(resolve, 2))
          }
        },
      }
      socket.on('message', (data: Buffer) => {
        const raw = JSON.parse(data.toString()) as unknown
        try {
          const { hello, sample, samples, news, refused, asks } = checkInput(benchMessageSchema, raw)
          heard.messages++
          if (hello) heard.me = hello.you
          if (asks) heard.asks.push(asks)
          heard.samples.push(...((samples ?? (sample ? [sample] : [])) as RigSample[]))
          if (news) heard.news.push(news)
          if (refused) heard.refused.push(refused)
        } catch (error) {
          misfits.add((error as Error).message)
        }
      })
      socket.on('close', () => (heard.isGone = true))
      await once(socket, 'open')
      return heard
    },
    async tickGates(job) {
      const { store } = server
      const found = (await findJob(store, job))!
      for (const line of await listRig(store, found))
        if (line.gate && !line.done) await tickRigLine(store, found, line.id, true)
    },
    runsOf: async (job) => (await server.call().get(api(`/jobs/${job}/runs`))).body as RunInfo[],
    async stop() {
      stream.close()
      await server.stop()
      http.close()
      if (misfits.size) throw new Error(`Messages do not fit the contract:\n${[...misfits].join('\n')}`)
    },
  }
  return bench
}
