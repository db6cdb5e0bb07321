import { join } from 'node:path'
import { builtServer } from './builtServer'
import { hostileFiles, type HostileFile } from './hostileFiles'
import type { Measured } from './measured'
import { watchHealth } from './watchHealth'

/** MB of the large files, s until one is refused, ms until `/health` answers meanwhile, and MB above idle. */
const SIZE = 100
const MOST = { refused: 5, health: 200, memory: 300 }

interface Seen {
  name: string
  status: number
  seconds: number
  health: number
  memory: number
}

/** Every hostile file at full size, each against a server that was just started. */
export async function hostileAtFullSize(folder: string): Promise<Measured[]> {
  const seen: Seen[] = []
  for (const [k, file] of hostileFiles(SIZE).entries()) seen.push(await sent(join(folder, `hostile-${k}`), file))
  const worst = (of: 'seconds' | 'health' | 'memory', among = seen): Seen =>
    among.reduce((most, one) => (one[of] > most[of] ? one : most))
  const slowest = worst(
    'seconds',
    seen.filter((one) => one.status >= 400),
  )
  const [deaf, large] = [worst('health'), worst('memory')]
  const faults = seen.filter((one) => one.status >= 500)
  return [
    {
      what: `${seen.length} hostile files of up to ${SIZE} MB: a fault of ours`,
      value: faults.map((one) => one.name).join(', ') || 'none',
      budget: 'none',
      met: faults.length === 0,
    },
    {
      what: 'the slowest refusal',
      value: `${slowest.seconds.toFixed(1)} s (${slowest.name})`,
      budget: `${MOST.refused} s`,
      met: slowest.seconds <= MOST.refused,
    },
    {
      what: 'the slowest answer of /health meanwhile',
      value: `${deaf.health.toFixed(0)} ms (${deaf.name})`,
      budget: `${MOST.health} ms`,
      met: deaf.health <= MOST.health,
    },
    {
      what: 'memory above idle',
      value: `${large.memory.toFixed(0)} MB (${large.name})`,
      budget: `${MOST.memory} MB`,
      met: large.memory <= MOST.memory,
    },
  ]
}

async function sent(folder: string, { name, door, content }: HostileFile): Promise<Seen> {
  // Made before: a connection that stands still meanwhile is closed.
  const bytes = content()
  const server = await builtServer(folder)
  const url = `${server.address}/api/v1`
  try {
    const job = await server.newJob()
    const form = new FormData()
    form.set('file', new Blob([bytes as unknown as ArrayBuffer]), 'a.bin')
    const watched = await watchHealth(server)
    const at = performance.now()
    const answer = await fetch(`${url}${door === 'runs' ? `/jobs/${job}` : ''}/${door}`, { method: 'POST', body: form })
    const seconds = (performance.now() - at) / 1000
    await answer.text()
    const one = { name, status: answer.status, seconds, ...(await watched()) }
    if (process.env['YUZUMIX_TELL'])
      console.log(
        `${one.status} ${seconds.toFixed(2)} s, /health ${one.health.toFixed(0)} ms, ${one.memory.toFixed(0)} MB: ${name}`,
      )
    return one
  } finally {
    await server.stop()
  }
}
