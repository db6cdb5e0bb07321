import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { setTimeout as delay } from 'node:timers/promises'
import { builtServer } from './builtServer'
import type { Measured } from './measured'
import { asker, atTheBench, sweepCsv, TABLE, valuesOf } from './workshopDay'

/** Minutes of work, and after how many of them memory is to stay: an hour and five where it is asked for. */
const MINUTES = Number(process.env['YUZUMIX_SOAK'] ?? 5)
const SETTLED = MINUTES / 12
/** % and handles that it may grow by from then to the end. */
const MOST = { memory: 10, handles: 3 }

/** The built application at a workshop's work without a pause: logs, questions, reports, archives, copies, benches. */
export async function soakTheService(folder: string): Promise<Measured[]> {
  const server = await builtServer(join(folder, 'service'))
  const resident = (): number =>
    Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))![1]) / 1024
  const handles = (): number => readdirSync(`/proc/${server.pid}/fd`).length
  const seen: { minute: number; memory: number; handles: number }[] = []
  const from = performance.now()
  const minute = (): number => (performance.now() - from) / 60_000
  try {
    for (let k = 0; minute() < MINUTES; k++) {
      await oneJob(server.address, k)
      // What is left behind by connections that just ended is no part of it.
      await delay(300)
      const now = { minute: minute(), memory: resident(), handles: handles() }
      if (process.env['YUZUMIX_TELL'])
        console.log(`${now.minute.toFixed(1)} min: ${now.memory.toFixed(0)} MB, ${now.handles} handles`)
      seen.push(now)
    }
  } finally {
    await server.stop()
  }
  const middle = (of: 'memory' | 'handles', from: number, to: number): number => {
    const among = seen.filter((one) => one.minute >= from && one.minute <= to).map((one) => one[of])
    return among.sort((a, b) => a - b)[Math.floor(among.length / 2)]!
  }
  const growth = (middle('memory', MINUTES - SETTLED, Infinity) / middle('memory', SETTLED, 2 * SETTLED) - 1) * 100
  const more = middle('handles', MINUTES - SETTLED, Infinity) - middle('handles', SETTLED, 2 * SETTLED)
  return [
    {
      what: `${MINUTES} minutes of a workshop's work, ${seen.length} jobs`,
      value: `${growth >= 0 ? '+' : ''}${growth.toFixed(1)} % of memory, ${more >= 0 ? '+' : ''}${more} handles`,
      budget: `${MOST.memory} %, ${MOST.handles} handles after ${SETTLED.toFixed(1)} minutes`,
      met: growth <= MOST.memory && more <= MOST.handles,
    },
  ]
}

/** All that a job goes through, and its end. */
async function oneJob(address: string, k: number): Promise<void> {
  const one = asker(address)
  const { ask, send, bytes } = one
  const { id } = await ask<{ id: string }>('POST', '/jobs', { title: `Job ${k}` })
  for (let run = 0; run < 4; run++) await send(`/jobs/${id}/runs`, sweepCsv(3000, 100 * k + run))
  const table = { ...TABLE, values: valuesOf(0) }
  const { id: fuel } = await ask<{ id: string }>('POST', `/jobs/${id}/tables`, { name: 'Fuel', table })
  await ask('POST', `/jobs/${id}/field`, {})
  await ask('POST', `/jobs/${id}/change`, { table: fuel })
  await atTheBench(one, address, id, 8)
  await bytes(`/jobs/${id}/report.pdf`)
  const zip = new Blob([await bytes(`/jobs/${id}/archive`)])
  const { id: copy } = await send<{ id: string }>('/archives', zip)
  if (k % 10 === 0) await ask('POST', '/backups', {})
  for (const gone of [id, copy]) await ask('DELETE', `/jobs/${gone}`)
  for (const { id: binned } of await ask<{ id: string }[]>('GET', '/bin')) await ask('DELETE', `/bin/${binned}`)
}
