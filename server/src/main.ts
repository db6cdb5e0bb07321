import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { pino } from 'pino'
import { isRefusal } from '@yuzumix/core'
import { createServer } from 'node:http'
import { createServer as createSecureServer } from 'node:https'
import { openAccess } from './access/access'
import { certificate, refuseOpen } from './access/listening'
import { requestLog } from './folder/requestLog'
import { createApp } from './app'
import { keepDaily } from './acts/keeping/daily'
import { recoverRecordings } from './sessions/journal'
import { openBenches } from './sessions/benches'
import { hurriedClock, wallClock } from './rigs/clock'
import { cutStalled } from './http/stalled'
import { streams } from './stream/stream'
import { dataFolder } from './dataFolder'
import { openPool } from './pool/pool'
import { openStore } from './store/database'

const root = fileURLToPath(new URL('../..', import.meta.url))
const { version } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as { version: string }
const port = Number(process.env['PORT'] ?? 5180)
const host = process.env['HOST'] ?? '127.0.0.1'
const open = !['127.0.0.1', 'localhost', '::1'].includes(host)
const log = pino({ level: process.env['YUZUMIX_LOG'] ?? 'warn' })

/** What is wrong with the folder, or with how it was started, is not ours: in words, and nothing else. */
function endInWords(error: unknown): never {
  if (!isRefusal(error)) throw error
  console.error(error.message)
  process.exit(1)
}

const store = await openStore(dataFolder()).catch(endInWords)
// A server that was killed leaves its recordings behind.
const recovered = await recoverRecordings(store)
if (recovered)
  console.log(
    `${recovered} ${recovered === 1 ? 'recording' : 'recordings'} that were under way when it ended are in their jobs, marked as cut.`,
  )
/** Who may come in, and by which certificate. */
async function atTheDoor() {
  try {
    const access = openAccess(store.folder)
    if (open) refuseOpen(access, host)
    return { access, tls: certificate(process.env['YUZUMIX_CERT'], process.env['YUZUMIX_KEY']) }
  } catch (error) {
    // The store is in order: it is not to be looked through at the next start.
    await store.close()
    return endInWords(error)
  }
}
const { access, tls } = await atTheDoor()
const requests = requestLog(store.folder)
const pool = openPool()
// Tests may have rigs live faster than the clock on the wall.
const times = Number(process.env['YUZUMIX_RIG_CLOCK'] ?? 1)
const benches = openBenches(times > 1 ? hurriedClock(times) : wallClock())
const stream = streams(store, benches, access, open)
const app = createApp({ store, pool, benches, root, version, access, open, secure: tls !== null, log, requests })
const server = (tls ? createSecureServer(tls, app) : createServer(app)).listen(port, host)
server.on('upgrade', stream.upgrade)
// A long log takes long to send: what counts is that it goes on.
server.requestTimeout = 0
const endWatch = cutStalled(server)
server.on('listening', () => {
  const bound = server.address()
  const at = typeof bound === 'object' && bound ? bound.port : port
  const address = `${tls ? 'https' : 'http'}://${host.includes(':') ? `[${host}]` : host}:${at}/`
  store.tellAddress(address)
  console.log(`Yuzumix ${version} is at ${address}`)
})
server.on('error', (error: NodeJS.ErrnoException) => {
  console.error(error.code === 'EADDRINUSE' ? `Port ${port} is taken. Set PORT to another one.` : error.message)
  process.exitCode = 1
  void stop()
})

const daily = keepDaily(store, log)

let stopping = false
async function stop(): Promise<void> {
  if (stopping) return
  stopping = true
  endWatch()
  server.close()
  stream.close()
  await daily.stop()
  server.closeAllConnections()
  await benches.closeAll()
  await pool.close()
  await store.close()
}
process.on('SIGINT', () => void stop())
process.on('SIGTERM', () => void stop())
