import { readFileSync } from 'node:fs'
import { Writable } from 'node:stream'
import { pino } from 'pino'
import { createApp } from '../app'
import { openAccess } from '../access/access'
import { openPool } from '../pool/pool'
import { join } from 'node:path'
import request from 'supertest'
import { api, root, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

/** OWASP Secure Headers Project, the headers it proposes; from memory. Those of plain HTTP: Strict-Transport-Security is told over TLS alone. */
const OWASP: Record<string, RegExp> = {
  'x-content-type-options': /^nosniff$/,
  'x-frame-options': /^(deny|sameorigin)$/i,
  'content-security-policy': /default-src 'self'/,
  'referrer-policy': /^(no-referrer|same-origin)$/,
  'cross-origin-opener-policy': /^same-origin$/,
  'cross-origin-resource-policy': /^same-origin$/,
  'cross-origin-embedder-policy': /^require-corp$/,
  'x-permitted-cross-domain-policies': /^none$/,
  'permissions-policy': /camera=\(\).*geolocation=\(\)/,
}
/** Headers that tell of what a server is made; the same source. */
const TELLING = ['server', 'x-powered-by', 'x-aspnet-version', 'x-generator']

describe('headers', () => {
  it.each(['/', '/api/v1/health', '/api/v1/jobs/none', '/assets/none.js', '/api/v1/nothing'])('of %s', async (path) => {
    const { headers } = await request(server.routes).get(path)
    for (const [name, value] of Object.entries(OWASP))
      expect([name, headers[name]]).toEqual([name, expect.stringMatching(value)])
    for (const name of TELLING) expect(headers).not.toHaveProperty(name)
  })
  it('the content policy makes no exception, and names no other origin', async () => {
    const policy = (await server.call().get('/')).headers['content-security-policy']!
    expect(policy).not.toMatch(/unsafe|\*|https?:/)
    for (const one of policy.split(';')) {
      const [name, ...from] = one.trim().split(' ')
      for (const source of from)
        expect([name, source]).toEqual([name, expect.stringMatching(/^('self'|'none'|data:|blob:)$/)])
    }
    expect(policy).toMatch(/object-src 'none'.*base-uri 'none'.*frame-ancestors 'none'/)
  })
  it('the licences of what it is made of come with it', async () => {
    const { text } = await server.call().get('/NOTICE.txt').expect(200)
    const { dependencies } = JSON.parse(readFileSync(join(root, 'server/package.json'), 'utf8')) as {
      dependencies: Record<string, string>
    }
    for (const name of [
      ...Object.keys(dependencies).filter((one) => !one.startsWith('@yuzumix/')),
      'vue',
      'element-plus',
      'd3-scale',
    ])
      expect(text).toMatch(new RegExp(`\\n${name} \\d`))
    expect(text).toMatch(/Permission is hereby granted, free of charge/)
  })
  it('over TLS the browser is told to stay with it', async () => {
    const pool = openPool(join(root, 'server/dist/worker.js'))
    const lines: string[] = []
    const sink = new Writable({
      write(text: Buffer, _, done) {
        lines.push(text.toString())
        done()
      },
    })
    try {
      const app = createApp({
        store: server.store,
        benches: server.benches,
        pool,
        root,
        version: 'test',
        access: openAccess(server.folder),
        open: false,
        secure: true,
        requests: pino({ level: 'info', base: null }, sink),
      })
      const { headers } = await request(app).get(api('/health'))
      expect(headers['strict-transport-security']).toMatch(/max-age=31536000/)
      await request(app).post(api('/jobs?secret=1')).send({ title: 'not to be logged' })
      // What is logged of a request: enough to find it again, and nothing of what it held.
      const last = JSON.parse(lines.at(-1)!) as object
      expect(last).toMatchObject({ method: 'POST', path: '/api/v1/jobs', status: 400 })
      expect(Object.keys(last).sort()).toEqual(['id', 'level', 'method', 'ms', 'msg', 'path', 'status', 'time'])
      expect(lines.join('')).not.toMatch(/secret|not to be logged/)
    } finally {
      await pool.close()
    }
  })
})
