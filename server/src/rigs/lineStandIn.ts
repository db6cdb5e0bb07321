import { createServer, type AddressInfo, type Server, type Socket } from 'node:net'

/** How the stand-in speaks. */
export interface StandInChoice {
  /** 0 for any that is free */
  port?: number
  /** lines a second */
  rate?: number
  separator?: string
}

const HEADER = ['Time (ms)', 'Engine RPM', 'ThrPos', 'WB_O2', 'Speed (km/h)', 'EGT 1', 'Box temperature']

/** What the machine does at a time, s: an engine by formulas, ridden round and round. */
function lineAt(seconds: number, separator: string): string {
  const turn = seconds % 24
  const throttle = turn < 4 ? 1 : turn < 12 ? 100 : turn < 14 ? 1 : 25
  const rpm = turn < 4 ? 1500 : turn < 12 ? 2500 + 800 * (turn - 4) : turn < 14 ? 8900 - 2000 * (turn - 12) : 4200
  const lambda = throttle === 1 ? 1.02 : throttle === 100 ? 0.87 + 0.02 * Math.sin(turn) : 0.96
  const shake = Math.sin(seconds * 37) * 8
  const cells = [
    Math.round(1000 * seconds),
    Math.round(rpm + shake),
    throttle,
    (lambda + shake / 4000).toFixed(3),
    (rpm / 80).toFixed(1),
    Math.round(480 + rpm / 40),
    38,
  ]
  return cells.join(separator)
}

/** A small sender of lines over TCP, on loopback: a header, then readings, as a logger by the machine does. */
export async function lineStandIn({ port = 0, rate = 20, separator = ';' }: StandInChoice = {}) {
  const sockets = new Set<Socket>()
  const server: Server = createServer((socket) => {
    sockets.add(socket)
    socket.on('error', () => undefined)
    socket.on('close', () => sockets.delete(socket))
    socket.write(`${HEADER.join(separator)}\r\n`)
  })
  const began = performance.now()
  const timer = setInterval(() => {
    const line = `${lineAt((performance.now() - began) / 1000, separator)}\r\n`
    for (const socket of sockets) socket.write(line)
  }, 1000 / rate)
  await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve))
  return {
    port: (server.address() as AddressInfo).port,
    /** says something of its own */
    say: (line: string) => sockets.forEach((socket) => socket.write(`${line}\r\n`)),
    /** drops whoever listens */
    drop: () => sockets.forEach((socket) => socket.destroy()),
    async stop(): Promise<void> {
      clearInterval(timer)
      sockets.forEach((socket) => socket.destroy())
      await new Promise((resolve) => server.close(resolve))
    },
  }
}
