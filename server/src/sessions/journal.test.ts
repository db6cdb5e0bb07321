import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { testBench, type TestBench } from '../testBench'
import { api } from '../testServer'
import { recoverRecordings } from './journal'

let bench: TestBench
beforeAll(async () => {
  bench = await testBench()
})
afterAll(() => bench.stop())
const folder = (): string => join(bench.server.folder, 'recordings')
const files = (): string[] => readdirSync(folder())

async function recording(seconds: number) {
  const job = await bench.server.newJob()
  await bench.connect(job)
  const watcher = await bench.watcher(job)
  watcher.say({ act: 'drive' })
  watcher.say({ act: 'record' })
  await watcher.until(() => watcher.news.at(-1)?.recording === true)
  await bench.pass(1000 * seconds)
  return { job, watcher }
}
const full = (): Error => Object.assign(new Error('SQLITE_FULL: database or disk is full'), { code: 'SQLITE_FULL' })

describe('recordings', () => {
  it('are in a file while they run, all but the last second of them, and not afterwards', async () => {
    const { job, watcher } = await recording(8)
    // What is written is handed to the system, which takes a moment of the wall's time.
    await watcher.until(
      () => files().length === 1 && readFileSync(join(folder(), files()[0]!), 'utf8').split('\n').length > 300,
    )
    const [head, ...samples] = readFileSync(join(folder(), files()[0]!), 'utf8').trim().split('\n')
    expect(JSON.parse(head!)).toMatchObject({ job, name: 'By hand at the bench' })
    const times = samples.map((line) => (JSON.parse(line) as { time: number }).time)
    expect(times.slice(1).every((time, k) => Math.abs(time - times[k]! - 0.02) < 1e-6)).toBe(true)
    watcher.say({ act: 'stop' })
    await watcher.until(() => watcher.news.at(-1)?.runs === 1)
    await watcher.until(() => files().length === 0)
    watcher.socket.close()
  })
  it('are found again after a server was killed: a run in their job, marked as cut, once', async () => {
    const { job, watcher } = await recording(4)
    await watcher.until(
      () => files().length === 1 && readFileSync(join(folder(), files()[0]!), 'utf8').split('\n').length > 150,
    )
    const written = readFileSync(join(folder(), files()[0]!), 'utf8')
    watcher.say({ act: 'stop' })
    await watcher.until(() => watcher.news.at(-1)?.runs === 1)
    const [whole] = await bench.runsOf(job)
    // As a kill leaves it: its last line cut in the middle.
    mkdirSync(folder(), { recursive: true })
    writeFileSync(join(folder(), 'left.jsonl'), written.slice(0, -40))
    expect(await recoverRecordings(bench.server.store)).toBe(1)
    expect(await recoverRecordings(bench.server.store)).toBe(0)
    const runs = await bench.runsOf(job)
    expect(runs).toHaveLength(2)
    expect(runs[1]!.name).toBe('By hand at the bench (cut)')
    expect(runs[1]!.warnings[0]).toMatch(/the server ended while it was recorded/)
    expect(runs[1]!.samples).toBe(written.slice(0, -40).trim().split('\n').length - 2)
    expect(runs[1]!.revisions).toEqual(whole!.revisions)
    watcher.socket.close()
  })
  it('of a job that is gone, and files that are none, are tidied', async () => {
    mkdirSync(folder(), { recursive: true })
    const head = { job: 'gone', name: 'a', bound: { revisions: null, warnings: [], named: [] } }
    writeFileSync(
      join(folder(), 'a.jsonl'),
      `${JSON.stringify(head)}\n{"time":1,"lambda":[1]}\n{"time":2,"lambda":[1]}\n`,
    )
    writeFileSync(join(folder(), 'b.jsonl'), 'nonsense')
    // A power cut may take the head, or leave anything.
    writeFileSync(
      join(folder(), 'c.jsonl'),
      '\0\0\0\n{"time":1,"lambda":[1]}\n{"time":2,"lambda":[1]}\n{"time":3,"lambda":[1]}\n',
    )
    writeFileSync(join(folder(), 'd.jsonl'), `${JSON.stringify(head)}\nnull\n1\n"x"\n[]\n{"time":1}\n`)
    writeFileSync(join(folder(), 'e.jsonl'), '')
    expect(await recoverRecordings(bench.server.store)).toBe(0)
    expect(files()).toEqual([])
  })
  it('that cannot be stored are kept, keep their bench, and are stored when there is room', async () => {
    const { job, watcher } = await recording(8)
    const { store } = bench.server
    const act = store.act
    store.act = () => Promise.reject(full())
    watcher.say({ act: 'stop' })
    await watcher.until(() => watcher.news.at(-1)?.unstored === 1)
    expect(watcher.news.at(-1)!.said).toMatch(/^The disk is full: "By hand at the bench" is kept here/)
    watcher.say({ act: 'store again' })
    await watcher.until(() => watcher.refused.length === 1)
    expect(watcher.refused[0]).toMatch(/disk is full/)
    const refused = await bench.server
      .call()
      .delete(api(`/jobs/${job}/bench`))
      .set('x-driver', watcher.me)
    expect(refused.status).toBe(507)
    expect(await bench.runsOf(job)).toHaveLength(0)
    store.act = act
    watcher.say({ act: 'store again' })
    await watcher.until(() => watcher.news.at(-1)?.unstored === 0)
    const [run] = await bench.runsOf(job)
    expect(run!.samples).toBeGreaterThan(300)
    expect(files()).toEqual([])
    await bench.server
      .call()
      .delete(api(`/jobs/${job}/bench`))
      .set('x-driver', watcher.me)
      .expect(204)
  })
})
