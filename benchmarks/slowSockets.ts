import { once } from 'node:events'
import { connect, type Socket } from 'node:net'
import { join } from 'node:path'
import { setTimeout as delay } from 'node:timers/promises'
import { WebSocket } from 'ws'
import { builtServer } from './builtServer'
import type { Measured } from './measured'
import { watchHealth } from './watchHealth'
import { asker, sweepCsv } from './workshopDay'

/** Sockets of each kind: half a body sent, an answer that nobody reads, a stream that nobody reads. */
const [HALF, UNREAD, STREAMS] = [80, 40, 80]
/** s that they stay, which is longer than a half-sent body may stand still. */
const STAY = 50
const MOST = { health: 200, memory: 300 }

/** 200 sockets that stand still, beside `/health`. */
export async function slowSockets(folder: string): Promise<Measured[]> {
  const server = await builtServer(join(folder, 'slow'))
  const { hostname, port } = new URL(server.address)
  const { ask, send } = asker(server.address)
  const open: Socket[] = []
  const begin = (head: string): Socket => {
    const socket = connect(Number(port), hostname)
    socket.on('error', () => undefined)
    socket.pause()
    socket.write(`${head}\r\nHost: ${hostname}:${port}\r\n`)
    open.push(socket)
    return socket
  }
  try {
    const { id } = await ask<{ id: string }>('POST', '/jobs', { title: 'slow' })
    for (let k = 0; k < 3; k++) await send(`/jobs/${id}/runs`, sweepCsv(200_000, k))
    await ask('PUT', `/jobs/${id}/bench`, { maker: 'simulated', machine: 'godwit-712-open-lid', speed: 4 })
    const watched = await watchHealth(server)
    const half = Array.from({ length: HALF }, () => {
      const socket = begin('POST /api/v1/jobs HTTP/1.1')
      socket.write('Content-Type: application/json\r\nContent-Length: 200\r\n\r\n{"title":')
      // Paused, an end is not heard.
      socket.resume()
      return socket
    })
    for (let k = 0; k < UNREAD; k++) begin(`GET /api/v1/jobs/${id}/archive HTTP/1.1`).write('\r\n')
    const streams = await Promise.all(
      Array.from({ length: STREAMS }, async () => {
        const one = new WebSocket(`ws://${hostname}:${port}/api/v1/jobs/${id}/bench/stream`)
        one.on('error', () => undefined)
        await once(one, 'open')
        one.pause()
        return one
      }),
    )
    await delay(1000 * STAY)
    const { health, memory } = await watched()
    const left = half.filter((socket) => !socket.destroyed).length
    for (const socket of open) socket.destroy()
    for (const one of streams) one.terminate()
    return [
      {
        what: `${HALF + UNREAD + STREAMS} sockets that stand still: /health`,
        value: `${health.toFixed(0)} ms, ${memory.toFixed(0)} MB above idle, ${left} half-sent bodies left`,
        budget: `${MOST.health} ms, ${MOST.memory} MB, 0 after ${STAY} s`,
        met: health <= MOST.health && memory <= MOST.memory && left === 0,
      },
    ]
  } finally {
    await server.stop()
  }
}
