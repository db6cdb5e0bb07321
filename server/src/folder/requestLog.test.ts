import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { requestLog } from './requestLog'

describe('the log of requests', () => {
  it('turns over to a new file when one is full, and keeps five', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'yuzumix-log-'))
    try {
      const log = requestLog(folder)
      const line = { id: 'a', method: 'GET', path: `/${'x'.repeat(2000)}`, status: 200, ms: 1 }
      const files = (): string[] => readdirSync(join(folder, 'logs')).filter((name) => name.endsWith('.log'))
      for (let k = 0; k < 22_000; k++) {
        log.info(line)
        if (k % 500 === 0) await new Promise((done) => setImmediate(done))
      }
      for (let k = 0; k < 500 && files().length < 6; k++) await new Promise((done) => setTimeout(done, 20))
      expect(files().length).toBe(6)
      const all = files().map((name) => statSync(join(folder, 'logs', name)).size)
      expect(Math.max(...all)).toBeLessThan(8e6)
      const [first] = readFileSync(join(folder, 'logs', 'requests.1.log'), 'utf8').split('\n')
      expect(JSON.parse(first!)).toMatchObject({ method: 'GET', status: 200, ms: 1 })
    } finally {
      rmSync(folder, { recursive: true, force: true })
    }
  })
})
