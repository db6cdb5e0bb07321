import { once } from 'node:events'
import { setTimeout as delay } from 'node:timers/promises'
import { WebSocket } from 'ws'
import { seededRandom } from '../core/src/numbers/random'

/** What was confirmed of a job: rows of its runs by id, states of its tables by id. */
export interface Known {
  title: string
  runs: Map<string, number>
  tables: Map<string, number>
}

/** Asks the application as its page does. */
export interface Asker {
  ask<T>(method: string, path: string, body?: object): Promise<T>
  send<T>(path: string, file: Blob): Promise<T>
  bytes(path: string): Promise<ArrayBuffer>
}

/** @param address where it listens; what is refused is thrown */
export function asker(address: string): Asker {
  const url = `${address}/api/v1`
  const answer = async (path: string, init: RequestInit): Promise<Response> => {
    const got = await fetch(url + path, init)
    if (!got.ok) throw new Error(`${init.method ?? 'GET'} ${path}: ${got.status} ${await got.text()}`)
    return got
  }
  return {
    async ask<T>(method: string, path: string, body?: object) {
      const got = await answer(path, {
        method,
        ...(body && { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
      })
      return (got.status === 204 ? null : await got.json()) as T
    },
    async send<T>(path: string, file: Blob) {
      const form = new FormData()
      form.set('file', file, 'a.bin')
      return (await (await answer(path, { method: 'POST', body: form })).json()) as T
    },
    bytes: async (path) => (await answer(path, {})).arrayBuffer(),
  }
}

/** A sweep at one opening as a log of its own; none is like another. */
export function sweepCsv(rows: number, seed: number): Blob {
  const { uniform, normal } = seededRandom(seed)
  const opening = 10 + 85 * uniform()
  const text = ['time,rpm,throttle,lambda,torque']
  for (let k = 0; k < rows; k++) {
    const rpm = 2500 + (5500 * k) / rows
    text.push(
      [
        (k / 50).toFixed(2),
        rpm.toFixed(0),
        (opening + 0.3 * normal()).toFixed(2),
        (0.9 + 0.03 * Math.sin(rpm / 900) + 0.008 * normal()).toFixed(4),
        (38 - ((rpm - 5200) / 1100) ** 2 + 0.2 * normal()).toFixed(3),
      ].join(),
    )
  }
  return new Blob([`${text.join('\n')}\n`])
}

export const TABLE = {
  kind: 'fuel base',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [2500, 4000, 5500, 7000, 8500],
  load: [5, 20, 45, 70, 100],
}
export const valuesOf = (by: number): number[][] =>
  TABLE.load.map((load) => TABLE.rpm.map((rpm) => Number((90 + load / 10 + rpm / 1000 + by).toFixed(2))))

/**
 * Holds a simulated rig for some seconds of its time: connected, driven, recorded, stored, let go.
 *
 * @param heard is told the s of the rig that were recorded so far
 */
export async function atTheBench(
  { ask }: Asker,
  address: string,
  job: string,
  seconds: number,
  heard: (recorded: number) => void = () => undefined,
): Promise<void> {
  await ask('PUT', `/jobs/${job}/bench`, { maker: 'simulated', machine: 'godwit-712-open-lid', speed: 4 })
  const socket = new WebSocket(`${address.replace('http', 'ws')}/api/v1/jobs/${job}/bench/stream`)
  let began: number | null = null
  let recorded = 0
  let [isRecording, isEnded] = [false, false]
  let refused = ''
  socket.on('error', () => undefined)
  socket.on('message', (data: Buffer) => {
    const {
      sample,
      news,
      refused: said,
    } = JSON.parse(data.toString()) as {
      sample?: { time: number }
      news?: { recording: boolean }
      refused?: string
    }
    if (said) refused = said
    if (news) isRecording = news.recording
    if (!sample || !isRecording || isEnded) return
    began ??= sample.time
    recorded = sample.time - began
    heard(recorded)
  })
  await once(socket, 'open')
  try {
    socket.send(JSON.stringify({ act: 'drive' }))
    socket.send(JSON.stringify({ act: 'record', override: 'a trial on the simulated rig' }))
    while (recorded < seconds && socket.readyState === socket.OPEN && !refused) await delay(20)
    if (refused) throw new Error(refused)
    if (socket.readyState !== socket.OPEN) throw new Error('the stream ended')
    // What is heard from here on may come after its end.
    isEnded = true
    socket.send(JSON.stringify({ act: 'let go' }))
    await delay(200)
    await ask('DELETE', `/jobs/${job}/bench`)
  } finally {
    socket.terminate()
  }
}
