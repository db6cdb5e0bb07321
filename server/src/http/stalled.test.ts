import { once } from 'node:events'
import { createServer, type Server } from 'node:http'
import { connect, type AddressInfo, type Socket } from 'node:net'
import { cutStalled } from './stalled'

let server: Server
let end: () => void
beforeEach(async () => {
  server = createServer((request, response) => {
    if (request.url === '/large') return void response.end(Buffer.alloc(64 * 1024 ** 2))
    if (request.url === '/long') return void setTimeout(() => response.end('done'), 400)
    request.resume().on('end', () => response.end('taken'))
  })
  end = cutStalled(server, { sending: 100, reading: 100 })
  server.listen(0, '127.0.0.1')
  await once(server, 'listening')
})
afterEach(() => {
  end()
  server.closeAllConnections()
  server.close()
})
const opened = async (head: string): Promise<Socket> => {
  const socket = connect((server.address() as AddressInfo).port, '127.0.0.1')
  await once(socket, 'connect')
  socket.on('error', () => undefined)
  socket.write(head)
  return socket
}

describe('exchanges that stand still', () => {
  it('a body that is begun and not gone on with is cut off', async () => {
    const socket = await opened('POST / HTTP/1.1\r\nHost: a\r\nContent-Length: 100\r\n\r\nhalf')
    socket.resume()
    await once(socket, 'close')
    expect(socket.bytesRead).toBe(0)
  })
  it('an answer that nobody reads is cut off', async () => {
    const socket = await opened('GET /large HTTP/1.1\r\nHost: a\r\n\r\n')
    const connections = (): Promise<number> => new Promise((done) => server.getConnections((_, count) => done(count)))
    while ((await connections()) > 0) await new Promise((done) => setTimeout(done, 20))
    expect(socket.bytesRead).toBeLessThan(64 * 1024 ** 2)
    socket.destroy()
  })
  it('work that takes long is left alone, and a body that comes slowly', async () => {
    const long = await opened('GET /long HTTP/1.1\r\nHost: a\r\nConnection: close\r\n\r\n')
    let said = ''
    long.on('data', (part: Buffer) => (said += part.toString()))
    await once(long, 'close')
    expect(said).toMatch(/done$/)
    const slow = await opened('POST / HTTP/1.1\r\nHost: a\r\nConnection: close\r\nContent-Length: 8\r\n\r\n')
    let answer = ''
    slow.on('data', (part: Buffer) => (answer += part.toString()))
    for (let k = 0; k < 8; k++) {
      slow.write('x')
      await new Promise((done) => setTimeout(done, 40))
    }
    if (!slow.closed) await once(slow, 'close')
    expect(answer).toMatch(/taken/)
  })
})
