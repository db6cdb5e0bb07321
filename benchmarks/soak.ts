import { once } from 'node:events'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import { setTimeout as delay } from 'node:timers/promises'
import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { WebSocket } from 'ws'
import { SIMULATED_MACHINES, type BenchNews, type RigSample } from '@yuzumix/core'
import { usualSweeps } from '../core/trials/guidedPasses'
import { openBenches } from '../server/src/sessions/benches'
import { connectSimulated } from '../server/src/sessions/connect'
import { openAccess } from '../server/src/access/access'
import { streams } from '../server/src/stream/stream'
import { openStore } from '../server/src/store/database'
import { createJob } from '../server/src/store/jobs'
import { listRuns } from '../server/src/store/runs'
import type { Measured } from './measured'

const HOUR = 3600
/** Times as fast as the clock, so that an hour of the rig's time is soaked in a minute. */
const SPEED = 60
const WATCHERS = 3
/** From here on memory should stay: by then everything has been used once. */
const SETTLED = HOUR / 6
const MOST_GROWTH = 10
/** Why runs are made though nothing of the rig list is ticked. */
const OPEN = 'a benchmark on the simulated rig'

setFlagsFromString('--expose_gc')
const collect = runInNewContext('gc') as () => void
const heap = (): number => {
  collect()
  return process.memoryUsage().heapUsed / 2 ** 20
}

/** An hour of the rig's time streamed to several watchers while sweeps are run and stored one after the other. */
export async function soakTheBench(folder: string): Promise<Measured[]> {
  const store = await openStore(join(folder, 'soak'))
  const benches = openBenches()
  const stream = streams(store, benches, openAccess(folder), false)
  const http = createServer().listen(0, '127.0.0.1')
  http.on('upgrade', stream.upgrade)
  await once(http, 'listening')
  const job = (await createJob(store, { title: 'soak' })).id
  const machine = SIMULATED_MACHINES.find((one) => one.id === 'godwit-712-open-lid')!
  const session = await connectSimulated(store, benches, job, {
    machine,
    name: machine.name,
    speed: SPEED,
    coolantC: 84,
  })
  const address = `ws://127.0.0.1:${(http.address() as AddressInfo).port}/api/v1/jobs/${job}/bench/stream`
  const scripts = usualSweeps()
  let [time, heard, left, started] = [0, 0, 0, 0]
  const sockets = await Promise.all(
    Array.from({ length: WATCHERS }, async (_, k) => {
      const socket = new WebSocket(address)
      socket.on('message', (data: Buffer) => {
        const {
          sample,
          left: missed,
          news,
        } = JSON.parse(data.toString()) as {
          sample?: RigSample
          left?: number
          news?: BenchNews & { you: boolean }
        }
        if (k > 0) return
        if (sample) [time, heard] = [sample.time, heard + 1]
        left += missed ?? 0
        if (news?.you && !news.script)
          socket.send(JSON.stringify({ act: 'run', script: scripts[started++ % scripts.length], override: OPEN }))
      })
      await once(socket, 'open')
      return socket
    }),
  )
  sockets[0]!.send(JSON.stringify({ act: 'drive' }))
  while (time < SETTLED) await delay(100)
  const before = heap()
  while (time < HOUR) await delay(100)
  const growth = heap() - before
  const runs = (await listRuns(store, job)).length
  for (const socket of sockets) socket.close()
  await session.close()
  stream.close()
  http.close()
  await store.close()
  return [
    {
      what: 'an hour of the bench to three watchers, sweeps stored',
      value: `${growth >= 0 ? '+' : ''}${growth.toFixed(1)} MB of heap, ${heard} readings, ${left} left out, ${runs} runs`,
      budget: `${MOST_GROWTH} MB after the first ten minutes`,
      met: growth <= MOST_GROWTH && runs > 20,
    },
  ]
}
