import { mkdir, readdir, readFile, rm, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { setTimeout as delay } from 'node:timers/promises'
import { fileURLToPath } from 'node:url'
import { gunzipSync } from 'node:zlib'
import { seededRandom } from '../core/src/numbers/random'
import { builtServer, type BuiltServer } from './builtServer'
import type { Measured } from './measured'
import { asker, atTheBench, sweepCsv, TABLE, valuesOf, type Asker, type Known } from './workshopDay'

/** How many kills: 200 where they are asked for. One in ten hits the opening of a store of an earlier version. */
const KILLS = Number(process.env['YUZUMIX_KILLS'] ?? 20)
const EARLIER = 10
/** s until it is there again, and s of a recording that a kill may cost. */
const MOST = { back: 5, recording: 1 }
const earlierStore = fileURLToPath(new URL('../src/store/earlier/store-0005.sqlite.gz', import.meta.url))

type Store = Map<string, Known>
const copyOf = (store: Store): Store =>
  new Map(
    [...store].map(([id, { title, runs, tables }]) => [id, { title, runs: new Map(runs), tables: new Map(tables) }]),
  )

/** What is known of the store from what was confirmed, and what was asked when it ended. */
interface Ledger {
  jobs: Store
  /** confirmed as deleted */
  gone: Set<string>
  backups: Map<string, { jobs: Store; gone: Set<string> }>
  /** the copy that was put back last */
  restoring: string
  /** asked to be deleted */
  maybeGone: Set<string>
  /** runs of the jobs whose archives were read back */
  archived: Set<number>
  /** asked for, and neither confirmed nor refused */
  open: string[]
  /** s of the rig that were recorded when it ended, by job */
  recording: Map<string, number>
  faults: string[]
}

/**
 * Kills the built application at random moments among logs, tables, archives, copies, restores, recordings and openings of a store
 * of an earlier version; after each, what was confirmed has to be there, and what was not either whole or not at all.
 */
export async function killAtRandom(folder: string): Promise<Measured[]> {
  const own = join(folder, 'kills')
  await mkdir(own, { recursive: true })
  const random = seededRandom(Number(process.env['YUZUMIX_SEED'] ?? 41))
  const ledger: Ledger = {
    jobs: new Map(),
    gone: new Set(),
    backups: new Map(),
    restoring: '',
    maybeGone: new Set(),
    archived: new Set(),
    open: [],
    recording: new Map(),
    faults: [],
  }
  const back: number[] = []
  const during = new Map<string, number>()
  for (let kill = 0; kill < KILLS; kill++) {
    if (kill % EARLIER === EARLIER - 1) {
      back.push(await killTheOpening(join(own, `earlier-${kill}`), random.uniform, ledger.faults))
      during.set('earlier store', (during.get('earlier store') ?? 0) + 1)
      continue
    }
    const server = await builtServer(own)
    const killed = delay(100 + 3900 * random.uniform()).then(() => server.kill())
    const touched = await workUntilKilled(server, ledger, random.uniform)
    await killed
    for (const what of ledger.open) during.set(what, (during.get(what) ?? 0) + 1)
    const again = await builtServer(own)
    back.push(again.startMs / 1000)
    await isAllThere(asker(again.address), ledger, touched, `kill ${kill}, during ${ledger.open.join(' and ')}`)
    await again.stop()
    const left = await readdir(join(own, 'data/incoming')).catch(() => [])
    if (left.length) ledger.faults.push(`kill ${kill} left ${left.length} files of uploads`)
    if (process.env['YUZUMIX_TELL'])
      console.log(
        `kill ${kill} during ${ledger.open.join(' and ')}: back in ${back.at(-1)!.toFixed(2)} s, ${ledger.jobs.size} jobs, recorded ${[...ledger.recording.values()].join()}, ${ledger.faults.length} faults`,
      )
  }
  const slowest = Math.max(...back)
  return [
    {
      what: `${KILLS} kills: ${[...during].map(([what, count]) => `${what} ${count}`).join(', ')}`,
      value: ledger.faults.length ? ledger.faults.slice(0, 5).join('; ') : 'nothing lost, nothing half stored',
      budget: 'nothing lost',
      met: ledger.faults.length === 0,
    },
    {
      what: 'the slowest start after one',
      value: `${slowest.toFixed(2)} s`,
      budget: `${MOST.back} s`,
      met: slowest <= MOST.back,
    },
  ]
}

const pick = <T>(among: Iterable<T>, by: number): T | undefined => {
  const all = [...among]
  return all[Math.floor(by * all.length)]
}

/** Works until the server is gone. @returns the jobs that were worked at */
async function workUntilKilled(server: BuiltServer, ledger: Ledger, uniform: () => number): Promise<Set<string>> {
  const one = asker(server.address)
  const touched = new Set<string>()
  ledger.open.length = 0
  ledger.recording.clear()
  let isUp = true
  /** An act, and what is known once it is confirmed. */
  const act = async (what: string, work: () => Promise<void>): Promise<void> => {
    if (!isUp) return
    ledger.open.push(what)
    try {
      await work()
      ledger.open.splice(ledger.open.indexOf(what), 1)
    } catch (error) {
      if (/^[A-Z]+ \/\S+: \d{3} /.test((error as Error).message)) {
        ledger.faults.push(`${what}: ${(error as Error).message}`)
        ledger.open.splice(ledger.open.indexOf(what), 1)
      } else isUp = false
    }
  }
  while (isUp) {
    const busy = new Set<string>()
    // Two at a time, each at a job of its own; a restore goes alone, as it puts all others back.
    await Promise.all([0, 1].map(() => atOneJob(one, server.address, ledger, uniform, touched, busy, act)))
    if (uniform() < 0.4) await act('backup', () => backUp(one, ledger))
    if (uniform() < 0.3 && ledger.backups.size) await act('restore', () => restore(one, ledger, uniform()))
  }
  return touched
}

async function atOneJob(
  one: Asker,
  address: string,
  { jobs, gone, recording, maybeGone, archived, faults }: Ledger,
  uniform: () => number,
  touched: Set<string>,
  busy: Set<string>,
  act: (what: string, work: () => Promise<void>) => Promise<void>,
): Promise<void> {
  const { ask, send, bytes } = one
  const id = pick(
    [...jobs.keys()].filter((job) => !busy.has(job)),
    uniform(),
  )
  const by = uniform()
  if (!id || by < 0.1)
    return act('new job', async () => {
      const title = `Job ${Math.floor(uniform() * 1e9)}`
      const made = await ask<{ id: string }>('POST', '/jobs', { title })
      jobs.set(made.id, { title, runs: new Map(), tables: new Map() })
      touched.add(made.id)
    })
  busy.add(id)
  touched.add(id)
  const job = jobs.get(id)!
  if (by < 0.45)
    return act('import', async () => {
      const rows = 200 + Math.floor(uniform() * 30_000)
      const run = await send<{ id: string }>(`/jobs/${id}/runs`, sweepCsv(rows, Math.floor(uniform() * 1e9)))
      job.runs.set(run.id, rows)
    })
  if (by < 0.65)
    return act('revision', async () => {
      const [table] = job.tables.keys()
      if (!table) {
        const body = { name: 'Fuel', table: { ...TABLE, values: valuesOf(0) } }
        job.tables.set((await ask<{ id: string }>('POST', `/jobs/${id}/tables`, body)).id, 1)
        return
      }
      const parent = job.tables.get(table)!
      const values = valuesOf((parent + 1) / 10)
      await ask('POST', `/jobs/${id}/tables/${table}/revisions`, { values, parent, reason: 'a trial' })
      job.tables.set(table, parent + 1)
    })
  if (by < 0.8)
    return act('archive', async () => {
      const zip = new Blob([await bytes(`/jobs/${id}/archive`)])
      archived.add(job.runs.size)
      const made = await send<{ id: string }>('/archives', zip)
      const runs = await ask<{ id: string; samples: number }[]>('GET', `/jobs/${made.id}/runs`)
      const tables = await ask<{ id: string; revisions: unknown[] }[]>('GET', `/jobs/${made.id}/tables`)
      jobs.set(made.id, {
        title: job.title,
        runs: new Map(runs.map((run) => [run.id, run.samples])),
        tables: new Map(tables.map((table) => [table.id, table.revisions.length])),
      })
      touched.add(made.id)
      if (runs.length < job.runs.size) faults.push(`an archive has ${runs.length} of ${job.runs.size} runs`)
    })
  if (by < 0.87 && jobs.size > 3)
    return act('deletion', async () => {
      maybeGone.add(id)
      await ask('DELETE', `/jobs/${id}`)
      jobs.delete(id)
      gone.add(id)
    })
  return act('recording', async () => {
    await atTheBench(one, address, id, 6, (recorded) => recording.set(id, recorded))
    recording.delete(id)
    for (const run of await ask<{ id: string; samples: number }[]>('GET', `/jobs/${id}/runs`))
      job.runs.set(run.id, run.samples)
  })
}

async function backUp({ ask }: Asker, { jobs, gone, backups }: Ledger): Promise<void> {
  const { name } = await ask<{ name: string }>('POST', '/backups', {})
  backups.set(name, { jobs: copyOf(jobs), gone: new Set(gone) })
}

async function restore({ ask }: Asker, ledger: Ledger, by: number): Promise<void> {
  const { backups } = await ask<{ backups: { name: string }[] }>('GET', '/backups')
  const name = pick(
    backups.map((one) => one.name).filter((one) => ledger.backups.has(one)),
    by,
  )
  if (!name) return
  ledger.restoring = name
  await ask('POST', `/backups/${name}/restore`, {})
  const then = ledger.backups.get(name)!
  ledger.jobs = copyOf(then.jobs)
  ledger.gone = new Set(then.gone)
}

/** Holds the store against what is known of it, and takes what was asked and not confirmed as it finds it, if it is whole. */
async function isAllThere(one: Asker, ledger: Ledger, touched: Set<string>, when: string): Promise<void> {
  const { ask } = one
  const fault = (what: string): void => void ledger.faults.push(`${when}: ${what}`)
  const listed = new Set((await ask<{ id: string }[]>('GET', '/jobs')).map(({ id }) => id))
  const known = new Set([...ledger.jobs.values()].flatMap((job) => [...job.runs.keys()]))
  const then = ledger.open.includes('restore') ? ledger.backups.get(ledger.restoring) : undefined
  // A restore that was under way was either done or not.
  if (then && (await isAsThen(one, then.jobs, listed)))
    [ledger.jobs, ledger.gone] = [copyOf(then.jobs), new Set(then.gone)]
  for (const [id, { title }] of ledger.jobs) {
    if (listed.has(id)) continue
    if (ledger.maybeGone.has(id)) ledger.jobs.delete(id)
    else fault(`"${title}" is lost`)
  }
  for (const id of ledger.gone) if (listed.has(id)) fault('a deleted job is there again')
  for (const id of listed) {
    const told = ledger.jobs.get(id)
    if (told && !touched.has(id)) continue
    if (!told && !ledger.open.includes('new job') && !ledger.open.includes('archive')) fault('a job that nobody made')
    const found = await foundOf(one, id, told, fault)
    const isWhole = found.runs.size === 0 || ledger.archived.has(found.runs.size)
    if (!told && !isWhole) fault(`an archive was read in part: ${found.runs.size} runs`)
    ledger.jobs.set(id, found)
  }
  for (const [id, recorded] of ledger.recording) {
    if (recorded < MOST.recording || !listed.has(id)) continue
    // One that was known before may be as long by chance.
    const all = await ask<{ id: string; duration: number }[]>('GET', `/jobs/${id}/runs`)
    const runs = all.filter((run) => !known.has(run.id))
    if (!runs.some(({ duration }) => Math.abs(duration - recorded) <= MOST.recording))
      fault(`a recording of ${recorded.toFixed(1)} s is not there: ${runs.map((run) => run.duration).join()}`)
  }
  ledger.maybeGone.clear()
  ledger.archived.clear()
}

/** Whether the store is what it was at a copy. */
async function isAsThen({ ask }: Asker, then: Store, listed: ReadonlySet<string>): Promise<boolean> {
  if (listed.size !== then.size) return false
  for (const [id, { runs, tables }] of then) {
    if (!listed.has(id)) return false
    const there = await ask<{ id: string }[]>('GET', `/jobs/${id}/runs`)
    const found = await ask<{ id: string; revisions: unknown[] }[]>('GET', `/jobs/${id}/tables`)
    if (there.length !== runs.size || !there.every((run) => runs.has(run.id))) return false
    if (!found.every((table) => tables.get(table.id) === table.revisions.length)) return false
  }
  return true
}

/** A job as it is there, each run read whole. */
async function foundOf(
  { ask, bytes }: Asker,
  id: string,
  known: Known | undefined,
  fault: (what: string) => void,
): Promise<Known> {
  const runs = await ask<{ id: string; samples: number }[]>('GET', `/jobs/${id}/runs`)
  const tables = await ask<{ id: string; revisions: unknown[] }[]>('GET', `/jobs/${id}/tables`)
  const found: Known = {
    title: known?.title ?? '',
    runs: new Map(runs.map((run) => [run.id, run.samples])),
    tables: new Map(tables.map((table) => [table.id, table.revisions.length])),
  }
  for (const [run, rows] of known?.runs ?? [])
    if (found.runs.get(run) !== rows) fault(`a run of ${rows} rows has ${found.runs.get(run) ?? 'none'}`)
  for (const [table, count] of known?.tables ?? [])
    if ((found.tables.get(table) ?? 0) < count) fault(`of ${count} revisions there are ${found.tables.get(table) ?? 0}`)
  for (const [run, rows] of found.runs) {
    const { byteLength } = await bytes(`/jobs/${id}/runs/${run}/columns?channels=time,rpm`)
    if (byteLength !== 2 * 4 * rows) fault(`a run of ${rows} rows has columns of ${byteLength} bytes`)
  }
  return found
}

/** Kills it while it opens a store of an earlier version. @returns s until it is there again, with all that was in it */
async function killTheOpening(folder: string, uniform: () => number, faults: string[]): Promise<number> {
  await mkdir(join(folder, 'data'), { recursive: true })
  await writeFile(join(folder, 'data/yuzumix.sqlite'), gunzipSync(await readFile(earlierStore)))
  const opening = builtServer(folder, (end) => void setTimeout(end, 200 + 1000 * uniform()))
  await opening.then((server) => server.kill()).catch(() => undefined)
  const again = await builtServer(folder)
  const { ask } = asker(again.address)
  const [job] = await ask<{ id: string; title: string; runCount: number }[]>('GET', '/jobs')
  if (job?.runCount !== 3) faults.push(`an earlier store came back with ${job?.runCount ?? 'no'} runs`)
  await again.stop()
  await rm(folder, { recursive: true })
  return again.startMs / 1000
}
