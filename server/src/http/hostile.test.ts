import { createServer, type Server } from 'node:http'
import { once } from 'node:events'
import { connect, type AddressInfo } from 'node:net'
import fc from 'fast-check'
import { ALL_CALLS } from '@yuzumix/core'
import { hostileFiles } from '../../../benchmarks/hostileFiles'
import { api, CSV, testServer, type TestServer } from '../testServer'

let server: TestServer
let http: Server
let job: string
beforeAll(async () => {
  server = await testServer()
  http = createServer(server.routes).listen(0, '127.0.0.1')
  await once(http, 'listening')
  job = await server.newJob()
  await server.upload(job, CSV).expect(201)
})
afterAll(async () => {
  http.closeAllConnections()
  http.close()
  await server.stop()
})
const url = (path: string): string => `http://127.0.0.1:${(http.address() as AddressInfo).port}${api(path)}`

/** What must hold of every answer to a sender at fault: 4xx, in words, of ours. */
async function isTold(answer: Response, what: string): Promise<void> {
  if (answer.status < 400) return
  const said = (await answer.json()) as { type: string; detail: string }
  expect([what, answer.status >= 400 && answer.status < 500, said]).toEqual([
    what,
    true,
    expect.objectContaining({
      type: expect.stringMatching(/^\/problems\//) as string,
      detail: expect.stringMatching(/^\S.{10,}/s) as string,
    }),
  ])
  // No library's own wording.
  expect([what, said.detail]).toEqual([
    what,
    expect.not.stringMatching(
      /undefined|Unexpected|ENOENT|SQLITE|Cannot read|is not a function|\[object|invalid (signature|distance)/,
    ),
  ])
}

describe('files that no honest program made', () => {
  it.each(hostileFiles(0.5))('$name', async ({ name, door, content }) => {
    const form = new FormData()
    form.set('file', new Blob([content() as unknown as ArrayBuffer]), 'a.bin')
    await isTold(
      await fetch(url(door === 'runs' ? `/jobs/${job}/runs` : `/${door}`), { method: 'POST', body: form }),
      name,
    )
    // It is there for the next one.
    expect((await fetch(url('/health'))).status).toBe(200)
  })
})

const deep = (depth: number): string => '['.repeat(depth) + ']'.repeat(depth)
/** Bodies that fit no call; some do not even fit JSON. */
const BODIES: Record<string, string> = {
  nothing: '',
  null: 'null',
  'a list': '[]',
  'a word': '"x"',
  'a number beyond all': '1e999',
  'half a thing': '{"title":',
  'lists in lists': deep(1000),
  'a list of 100,000': `{"runs":[${'1,'.repeat(99_999)}1]}`,
  'members of objects': '{"__proto__":{"title":"x"},"constructor":{"prototype":1},"toString":1}',
  'a member that is unknown, and long': `{"${'x'.repeat(5000)}":1}`,
  'numbers in place of all':
    '{"title":1,"name":1,"table":1,"values":1,"runs":1,"reason":1,"settings":1,"kind":1,"script":1}',
  'lists in place of all':
    '{"title":[],"name":[],"table":[],"values":[[]],"runs":[[]],"reason":[],"settings":[],"kind":[]}',
}
const CALLS = ALL_CALLS.filter(
  (one) => one.body !== undefined && !one.path.startsWith('/access') && one.name !== 'deleteJob',
)

describe('bodies that fit no call', () => {
  it.each(CALLS.map((call) => ({ call, name: call.name })))('$name', async ({ call }) => {
    const path = call.path.replace('{job}', job).replace(/\{\w+\}/g, 'none')
    for (const [what, body] of Object.entries(BODIES)) {
      const init = { method: call.method.toUpperCase(), headers: { 'content-type': 'application/json' }, body }
      await isTold(await fetch(url(path), init), `${call.method} ${call.path}: ${what}`)
    }
  })
  it('bodies by chance, over the whole contract', async () => {
    const some = fc.record({ k: fc.nat(CALLS.length - 1), body: fc.json({ maxDepth: 4 }) })
    await fc.assert(
      fc.asyncProperty(some, async ({ k, body }) => {
        const call = CALLS[k]!
        const path = call.path.replace('{job}', job).replace(/\{\w+\}/g, 'none')
        const init = { method: call.method.toUpperCase(), headers: { 'content-type': 'application/json' }, body }
        await isTold(await fetch(url(path), init), `${call.name} ${body.slice(0, 200)}`)
      }),
      { numRuns: 300, seed: 40 },
    )
  })
})

describe('addresses and forms that are broken', () => {
  it.each([
    '/%',
    '/jobs/%E0%A4%A',
    `/jobs/${'x'.repeat(6000)}`,
    '/jobs/%00',
    '/jobs/..%2f..%2fetc',
    '/jobs?x[y]=1&x=2',
    '/imports/%',
    `/jobs/${'%F0%9F%8D%8B'.repeat(300)}`,
  ])('%s', async (path) => {
    await isTold(await fetch(url(path)), path)
  })
  it.each([
    'POST /api/v1/jobs HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: multipart/form-data; boundary=x\r\nContent-Length: 5\r\n\r\n--x--',
    'POST /api/v1/archives HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: multipart/form-data; boundary=x\r\nContent-Length: 5\r\n\r\n--x--',
    'POST /api/v1/archives HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: multipart/form-data; boundary=\r\nContent-Length: 3\r\n\r\nabc',
    'POST /api/v1/archives HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: multipart/form-data; boundary=x\r\nContent-Length: 60\r\n\r\n--x\r\nContent-Disposition: form-data; name="file"; filename="\r\n\r\n',
    'POST /api/v1/jobs HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json; charset=klingon\r\nContent-Length: 2\r\n\r\n{}',
    'POST /api/v1/jobs HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nContent-Encoding: gzip\r\nContent-Length: 2\r\n\r\n{}',
    'POST /api/v1/jobs HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nTransfer-Encoding: chunked\r\n\r\nzz\r\n',
    'PUT /api/v1/jobs HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 0\r\n\r\n',
    'GET /api/v1/jobs HTTP/1.1\r\nHost: elsewhere.example\r\n\r\n',
    'GET /api/v1/jobs HTTP/1.1\r\n\r\n',
    'GET /api/v1/jobs HTTP/9.9\r\n\r\n',
    'nonsense\r\n\r\n',
  ])('%j', async (sent) => {
    const socket = connect((http.address() as AddressInfo).port, '127.0.0.1')
    let said = ''
    socket.on('data', (part: Buffer) => {
      said += part.toString()
      socket.end()
    })
    socket.on('error', () => undefined)
    socket.write(sent)
    await once(socket, 'close')
    expect(said).toMatch(/^HTTP\/1\.1 4\d\d /)
  })
})

describe('the same at once', () => {
  it('a file that is sent eight times is one run', async () => {
    const own = await server.newJob()
    const send = (): Promise<Response> => {
      const form = new FormData()
      form.set('file', new Blob([CSV]), 'a.csv')
      return fetch(url(`/jobs/${own}/runs`), { method: 'POST', body: form })
    }
    const answers = await Promise.all(Array.from({ length: 8 }, send))
    expect(answers.map((one) => one.status).sort((a, b) => a - b)).toEqual([201, ...Array<number>(7).fill(409)])
    expect(((await (await fetch(url(`/jobs/${own}/runs`))).json()) as unknown[]).length).toBe(1)
  })
  it('writes of many are ordered: each is there, or refused', async () => {
    const own = await server.newJob()
    const answers = await Promise.all(
      Array.from({ length: 40 }, (_, k) =>
        fetch(url(`/jobs/${own}/sets`), {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ name: `Set ${k}` }),
        }),
      ),
    )
    expect(new Set(answers.map((one) => one.status))).toEqual(new Set([201]))
    const sets = (await (await fetch(url(`/jobs/${own}/sets`))).json()) as { name: string }[]
    expect(new Set(sets.map((one) => one.name).filter((name) => name.startsWith('Set '))).size).toBe(40)
  })
})
