import { readFileSync } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { builtServer } from './builtServer'
import { hostileFiles, type HostileFile } from './hostileFiles'

const RSS = (pid: number): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024

/**
 * Sends every hostile file at full size to the built server, one after the other: s until it answers, slowest answer of `/health`
 * meanwhile, MB above idle.
 *
 * @param mb size of the large ones
 */
export async function hostile(mb = 100, only = ''): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'yuzumix-hostile-'))
  try {
    for (const file of hostileFiles(mb).filter((one) => one.name.includes(only))) console.log(await sent(folder, file))
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

/** What a file does to a server that was just started. */
async function sent(folder: string, { name, door, content }: HostileFile): Promise<string> {
  const server = await builtServer(folder)
  const url = `${server.address}/api/v1`
  try {
    const job = await server.newJob()
    await fetch(`${url}/health`)
    const idle = RSS(server.pid)
    const bytes = content()
    const form = new FormData()
    form.set('file', new Blob([bytes as unknown as ArrayBuffer]), 'a.bin')
    let [open, slowest, most] = [true, 0, 0]
    const watch = (async () => {
      while (open) {
        const at = performance.now()
        await fetch(`${url}/health`)
        slowest = Math.max(slowest, performance.now() - at)
        most = Math.max(most, RSS(server.pid) - idle)
        await new Promise((done) => setTimeout(done, 10))
      }
    })()
    const at = performance.now()
    const answer = await fetch(`${url}${door === 'runs' ? `/jobs/${job}` : ''}/${door}`, { method: 'POST', body: form })
    const s = (performance.now() - at) / 1000
    const { detail = 'taken' } = (await answer.json()) as { detail?: string }
    open = false
    await watch
    const isShort = answer.status >= 500 || s > 5 || slowest > 200 || most > 300
    return `${isShort ? '!!' : '  '} ${answer.status} ${s.toFixed(2)} s, health ${slowest.toFixed(0)} ms, +${most.toFixed(0)} MB, ${(bytes.length / 1e6).toFixed(1)} MB  ${name}: ${detail}`.slice(
      0,
      220,
    )
  } finally {
    await server.stop()
  }
}
