import { createWriteStream, openAsBlob } from 'node:fs'
import { mkdir } from 'node:fs/promises'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { seededRandom } from '../core/src/numbers/random'
import { builtServer } from './builtServer'
import type { Measured } from './measured'

const ROWS = 3_000_000
const MOST_TIMES = 3

function* csv(): Generator<string> {
  yield 'time,rpm,throttle,lambda,torque,speed,intake,coolant,battery,knock\n'
  const { uniform } = seededRandom(3)
  for (let from = 0; from < ROWS; from += 10_000) {
    let text = ''
    for (let i = from; i < from + 10_000; i++)
      text += `${(i / 100).toFixed(2)},${(4000 + 2000 * Math.sin(i / 900)).toFixed(0)},${(40 + 30 * Math.sin(i / 700)).toFixed(1)},${(0.9 + 0.05 * uniform()).toFixed(3)},${(30 + 10 * uniform()).toFixed(2)},${(60 + 30 * Math.sin(i / 3000)).toFixed(1)},${(25 + uniform()).toFixed(1)},${(85 + uniform()).toFixed(1)},${(13.5 + uniform()).toFixed(2)},${uniform().toFixed(3)}\n`
    yield text
  }
}

/** A run of 3,000,000 x 10: its archive written and read back, against the import of its CSV. */
export async function archiveAgainstImport(folder: string): Promise<Measured[]> {
  const own = join(folder, 'archive')
  await mkdir(own, { recursive: true })
  const [log, zip] = [join(own, 'a.csv'), join(own, 'a.zip')]
  await pipeline(Readable.from(csv()), createWriteStream(log))
  const server = await builtServer(own)
  const url = `${server.address}/api/v1`
  const timed = async (work: () => Promise<void>): Promise<number> => {
    const at = performance.now()
    await work()
    return performance.now() - at
  }
  const send = async (path: string, file: string): Promise<void> => {
    const form = new FormData()
    form.set('file', await openAsBlob(file), 'a')
    const answer = await fetch(url + path, { method: 'POST', body: form })
    if (answer.status !== 201) throw new Error(await answer.text())
    await answer.text()
  }
  try {
    const job = await server.newJob()
    const imported = await timed(() => send(`/jobs/${job}/runs`, log))
    const written = await timed(async () => {
      const { body } = await fetch(`${url}/jobs/${job}/archive`)
      await pipeline(Readable.fromWeb(body as never), createWriteStream(zip))
    })
    const read = await timed(() => send('/archives', zip))
    return [['written', written] as const, ['read back', read] as const].map(([what, ms]) => ({
      what: `an archive of 3,000,000 x 10 ${what}, against the import`,
      value: `${(ms / imported).toFixed(2)} times (${(ms / 1000).toFixed(1)} s; ${(imported / 1000).toFixed(1)} s)`,
      budget: `${MOST_TIMES} times`,
      met: ms <= MOST_TIMES * imported,
    }))
  } finally {
    await server.stop()
  }
}
