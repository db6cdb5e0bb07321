import { openAsBlob } from 'node:fs'
import { readFile } from 'node:fs/promises'
import { createWriteStream } from 'node:fs'
import { once } from 'node:events'
import { join } from 'node:path'
import { seededRandom } from '../core/src/numbers/random'
import { builtServer } from './builtServer'
import type { Measured } from './measured'
import { python } from './python'

const PAIRS = 5
const HEADER = 'time (s),rpm,throttle (%),lambda 1,lambda 2,torque (N·m),coolant (°C),intake (°C),battery (V),gear'

async function writeLog(path: string, rows: number): Promise<void> {
  const random = seededRandom(2)
  const out = createWriteStream(path)
  out.write(`${HEADER}\n`)
  for (let i = 0; i < rows;) {
    const lines: string[] = []
    const end = Math.min(rows, i + 20000)
    for (; i < end; i++) {
      const rpm = 3000 + 2500 * Math.sin(i / 900)
      lines.push(
        `${(i / 50).toFixed(2)},${rpm.toFixed(0)},${(40 + 30 * Math.sin(i / 1300)).toFixed(1)},${(0.9 + 0.02 * random.normal()).toFixed(3)},${(0.91 + 0.02 * random.normal()).toFixed(3)},${(30 + random.normal()).toFixed(1)},${(85 + random.uniform()).toFixed(1)},24.5,13.8,3`,
      )
    }
    if (!out.write(`${lines.join('\n')}\n`)) await once(out, 'drain')
  }
  out.end()
  await once(out, 'close')
}

async function memoryOf(pid: number, field: 'VmRSS' | 'VmHWM'): Promise<number> {
  const status = await readFile(`/proc/${pid}/status`, 'utf8').catch(() => '')
  return Number(new RegExp(`${field}:\\s+(\\d+)`).exec(status)?.[1] ?? NaN) / 1024
}

/** Import through HTTP against pandas, and the memory it takes for two lengths. */
export async function importLog(folder: string): Promise<Measured[]> {
  const log = join(folder, 'million.csv')
  const long = join(folder, 'three.csv')
  await writeLog(log, 1_000_000)
  await writeLog(long, 3_000_000)
  const server = await builtServer(folder)
  try {
    const job = await server.newJob()
    const send = async (path: string): Promise<number> => {
      const form = new FormData()
      form.set('again', 'true')
      form.set('file', await openAsBlob(path), 'log.csv')
      const start = performance.now()
      const answer = await fetch(`${server.address}/api/v1/jobs/${job}/runs`, {
        method: 'POST',
        body: form,
        // Between two imports a connection may be closed just as it is used again.
        headers: { connection: 'close' },
      })
      if (answer.status !== 201) throw new Error(await answer.text())
      return performance.now() - start
    }
    const idle = await memoryOf(server.pid, 'VmRSS')
    // The peak is the process's own, so what each length takes is asked before anything is repeated.
    await send(log)
    const afterOne = (await memoryOf(server.pid, 'VmHWM')) - idle
    await send(long)
    const afterThree = (await memoryOf(server.pid, 'VmHWM')) - idle
    // In turns, and the median of the ratios, because the machine's speed drifts within the minute.
    const pairs: { mine: number; theirs: number }[] = []
    for (let k = 0; k < PAIRS; k++) {
      const mine = await send(log)
      pairs.push({ mine, theirs: python<{ ms: number }>('import.py', [log, join(folder, `pandas${k}.sqlite`)]).ms })
    }
    const { mine, theirs } = pairs.sort((a, b) => a.mine / a.theirs - b.mine / b.theirs)[(PAIRS - 1) / 2]!
    const ratio = mine / theirs
    return [
      {
        what: 'import of 1,000,000 x 10 CSV through HTTP',
        value: `${ratio.toFixed(2)} of pandas (${(mine / 1000).toFixed(1)} / ${(theirs / 1000).toFixed(1)} s)`,
        budget: '0.7',
        met: ratio <= 0.7,
      },
      {
        what: 'memory of that import, 1 and 3 million rows',
        value: `+${afterOne.toFixed(0)} MB and +${afterThree.toFixed(0)} MB at the peak`,
        budget: '150 MB over idle',
        met: afterThree <= 150,
      },
    ]
  } finally {
    await server.stop()
  }
}
