import { once } from 'node:events'
import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import { builtServer } from './builtServer'
import { hostileFiles, type HostileFile } from './hostileFiles'
import type { Measured } from './measured'

/** MB of the large files, s until one is refused, ms until `/health` answers meanwhile, and MB above idle. */
const SIZE = 100
const MOST = { refused: 5, health: 200, memory: 300 }

interface Seen {
  name: string
  status: number
  seconds: number
  health: number
  memory: number
}

/** Every hostile file at full size, each against a server that was just started. */
export async function hostileAtFullSize(folder: string): Promise<Measured[]> {
  const seen: Seen[] = []
  for (const [k, file] of hostileFiles(SIZE).entries()) seen.push(await sent(join(folder, `hostile-${k}`), file))
  const worst = (of: 'seconds' | 'health' | 'memory', among = seen): Seen =>
    among.reduce((most, one) => (one[of] > most[of] ? one : most))
  const slowest = worst(
    'seconds',
    seen.filter((one) => one.status >= 400),
  )
  const [deaf, large] = [worst('health'), worst('memory')]
  const faults = seen.filter((one) => one.status >= 500)
  return [
    {
      what: `${seen.length} hostile files of up to ${SIZE} MB: a fault of ours`,
      value: faults.map((one) => one.name).join(', ') || 'none',
      budget: 'none',
      met: faults.length === 0,
    },
    {
      what: 'the slowest refusal',
      value: `${slowest.seconds.toFixed(1)} s (${slowest.name})`,
      budget: `${MOST.refused} s`,
      met: slowest.seconds <= MOST.refused,
    },
    {
      what: 'the slowest answer of /health meanwhile',
      value: `${deaf.health.toFixed(0)} ms (${deaf.name})`,
      budget: `${MOST.health} ms`,
      met: deaf.health <= MOST.health,
    },
    {
      what: 'memory above idle',
      value: `${large.memory.toFixed(0)} MB (${large.name})`,
      budget: `${MOST.memory} MB`,
      met: large.memory <= MOST.memory,
    },
  ]
}

/** Asks `/health` in a thread of its own: whoever sends a file of 100 MB is slow to hear. */
const WATCH = `
const { parentPort, workerData } = require('node:worker_threads')
const { readFileSync } = require('node:fs')
const resident = () => Number(/VmRSS:\\s+(\\d+)/.exec(readFileSync('/proc/' + workerData.pid + '/status', 'utf8'))[1]) / 1024
let [open, health, memory] = [true, 0, 0]
parentPort.on('message', () => (open = false))
;(async () => {
  const idle = resident()
  while (open) {
    const at = performance.now()
    await (await fetch(workerData.url + '/health')).text()
    health = Math.max(health, performance.now() - at)
    memory = Math.max(memory, resident() - idle)
    await new Promise((done) => setTimeout(done, 10))
    if (memory >= 0 && !workerData.told) parentPort.postMessage((workerData.told = true) && null)
  }
  parentPort.postMessage({ health, memory })
  process.exit()
})()`

async function sent(folder: string, { name, door, content }: HostileFile): Promise<Seen> {
  // Made before: a connection that stands still meanwhile is closed.
  const bytes = content()
  const server = await builtServer(folder)
  const url = `${server.address}/api/v1`
  try {
    const job = await server.newJob()
    const form = new FormData()
    form.set('file', new Blob([bytes as unknown as ArrayBuffer]), 'a.bin')
    const watch = new Worker(WATCH, { eval: true, workerData: { url, pid: server.pid, told: false } })
    await once(watch, 'message')
    const at = performance.now()
    const answer = await fetch(`${url}${door === 'runs' ? `/jobs/${job}` : ''}/${door}`, { method: 'POST', body: form })
    const seconds = (performance.now() - at) / 1000
    await answer.text()
    const seen = once(watch, 'message') as Promise<[Pick<Seen, 'health' | 'memory'>]>
    watch.postMessage('end')
    const one = { name, status: answer.status, seconds, ...(await seen)[0] }
    if (process.env['YUZUMIX_TELL'])
      console.log(
        `${one.status} ${seconds.toFixed(2)} s, /health ${one.health.toFixed(0)} ms, ${one.memory.toFixed(0)} MB: ${name}`,
      )
    return one
  } finally {
    await server.stop()
  }
}
