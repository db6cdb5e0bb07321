import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { seededRandom } from '../../../core/src/numbers/random'

/** A file system of its own, so small that it is soon full, in a namespace of its own: no rights are needed for it. */
const SMALL = ['-rm', 'sh', '-c']
const canMount = spawnSync('unshare', [...SMALL, 'mount -t tmpfs -o size=1m tmpfs /tmp']).status === 0

/** The built server on a disk of 12 MB, with a way to fill the disk and to make room on it. */
class SmallDisk {
  address = ''
  private constructor(
    readonly child: ChildProcess,
    readonly folder: string,
    private readonly lines: AsyncIterator<string>,
  ) {}
  static async open(): Promise<SmallDisk> {
    const folder = mkdtempSync(join(tmpdir(), 'yuzumix-full-'))
    // The mount is made before the loop reads its first line.
    const script = `mount -t tmpfs -o size=12m tmpfs "${folder}"; node server/dist/main.js & pid=$!; while read line; do eval "$line"; echo done; done; kill $pid; wait`
    const env = { ...process.env, YUZUMIX_DATA: folder, PORT: '0', HOST: '127.0.0.1', YUZUMIX_LOG: 'silent' }
    const child = spawn('unshare', [...SMALL, script], {
      env,
      stdio: ['pipe', 'pipe', 'ignore'],
    })
    const lines = createInterface({ input: child.stdout! })[Symbol.asyncIterator]()
    const disk = new SmallDisk(child, folder, lines)
    disk.address = /http:\/\/\S+?(?=\/?$)/.exec(await disk.next())![0]
    return disk
  }
  private async next(): Promise<string> {
    return String((await this.lines.next()).value)
  }
  /** Runs a command of the shell beside the server, on the same disk. */
  async shell(command: string): Promise<void> {
    this.child.stdin!.write(`${command}\n`)
    while ((await this.next()) !== 'done');
  }
  async close(): Promise<void> {
    const ended = once(this.child, 'exit')
    this.child.stdin!.end()
    await ended
    rmSync(this.folder, { recursive: true, force: true })
  }
}

;(canMount ? describe : describe.skip)('a disk that is full', () => {
  it('at many moments: every answer names it, nothing that was confirmed is lost, and it goes on when there is room', async () => {
    const disk = await SmallDisk.open()
    const { uniform } = seededRandom(40)
    const api = (path: string, init?: RequestInit): Promise<Response> => fetch(`${disk.address}/api/v1${path}`, init)
    const json = (body: object): RequestInit => ({
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
    const rows = Array.from({ length: 3000 }, (_, k) => `${k / 50},${3000 + k},${(0.9 + uniform() / 50).toFixed(4)}`)
    const log = `time,rpm,lambda\n${rows.join('\n')}\n`
    try {
      const first = ((await (await api('/jobs', json({ title: 'First' }))).json()) as { id: string }).id
      const confirmed: string[] = []
      let refusals = 0
      for (let moment = 0; moment < 50; moment++) {
        // All room but some is taken, at another point of the writing each time.
        const left = Math.floor(uniform() * 300)
        await disk.shell(
          `head -c $(( ($(df -k --output=avail "${disk.folder}" | tail -1) - ${left}) * 1024 )) /dev/zero > "${disk.folder}/ballast" 2>/dev/null`,
        )
        for (let k = 0; k < 4; k++) {
          const form = new FormData()
          form.set('file', new Blob([log]), 'run.csv')
          form.set('again', 'true')
          const answer =
            k % 2 === 0
              ? await api(`/jobs/${first}/runs`, { method: 'POST', body: form })
              : await api(`/jobs/${first}/sets`, json({ name: `Set ${moment} ${k}` }))
          if (answer.status === 201) {
            const { id } = (await answer.json()) as { id: string }
            confirmed.push(`${k % 2 === 0 ? 'runs' : 'sets'} ${id}`)
          } else {
            refusals++
            expect([answer.status, await answer.json()]).toMatchObject([
              507,
              {
                type: '/problems/disk-full',
                detail: expect.stringMatching(/The disk is full: nothing was stored/) as string,
              },
            ])
          }
        }
        await disk.shell(`rm -f "${disk.folder}/ballast"`)
        // The runs of the rounds before go, so that the disk stays the same.
        if (moment % 5 === 4) {
          for (const one of confirmed.filter((each) => each.startsWith('runs')).slice(0, -1))
            await api(`/jobs/${first}/${one.replace(' ', '/')}`, { method: 'DELETE' })
          confirmed.splice(0, confirmed.length, ...confirmed.filter((each) => each.startsWith('sets')))
        }
        for (const kind of ['runs', 'sets']) {
          const there = new Set(
            ((await (await api(`/jobs/${first}/${kind}`)).json()) as { id: string }[]).map((one) => one.id),
          )
          for (const one of confirmed) if (one.startsWith(kind)) expect(there).toContain(one.split(' ')[1])
        }
      }
      expect(refusals).toBeGreaterThan(20)
      expect((await api('/jobs', json({ title: 'There is room again' }))).status).toBe(201)
      const health = (await (await api('/health')).json()) as { space: { isShort: boolean } }
      expect(health.space.isShort).toBe(true)
    } finally {
      await disk.close()
    }
  })
})
