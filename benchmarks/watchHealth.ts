import { once } from 'node:events'
import { Worker } from 'node:worker_threads'
import type { BuiltServer } from './builtServer'

/** What was seen of a server while something went on: ms until the slowest answer of `/health`, and MB above what it had before. */
export interface Health {
  health: number
  memory: number
}

/** Asks in a thread of its own: whoever sends a file of 100 MB is slow to hear. */
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

/** Begins to watch. @returns ends it, and gives what was seen */
export async function watchHealth({ address, pid }: BuiltServer): Promise<() => Promise<Health>> {
  const watch = new Worker(WATCH, { eval: true, workerData: { url: `${address}/api/v1`, pid, told: false } })
  await once(watch, 'message')
  return async () => {
    const seen = once(watch, 'message') as Promise<[Health]>
    watch.postMessage('end')
    return (await seen)[0]
  }
}
