import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import type { TrainingState } from '@yuzumix/core'
import { CURLEW } from '../testBench'
import { api, asBytes, CSV, TABLE, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const call = () => server.call()

type Content = Record<string, unknown> & {
  job: Record<string, unknown>
  runs: Record<string, unknown>[]
  tables: { revisions: Record<string, unknown>[] }[]
}
async function packed(job: string): Promise<Record<string, Uint8Array>> {
  const { body } = await call()
    .get(api(`/jobs/${job}/archive`))
    .buffer(true)
    .parse(asBytes)
    .expect(200)
  return unzipSync(body as Buffer)
}
const opened = (files: Record<string, Uint8Array>) =>
  call()
    .post(api('/archives'))
    .attach('file', Buffer.from(zipSync(files)), 'job.zip')
const without = (from: Record<string, unknown>, ...names: string[]): void => names.forEach((name) => delete from[name])

/** What archives did not have, the later the version the fewer; each as all after it. Read off the history of `archiveSchema`. */
const EARLIER: [before: string, strip: (content: Content) => void][] = [
  ['what a rig remembers, and cases of the trainer', (all) => without(all, 'rigs', 'training')],
  ['passes at the strip', (all) => without(all, 'passes')],
  ['stretches, and what is left out by time', (all) => all.runs.forEach((run) => without(run, 'stretches', 'without'))],
  ['ways', (all) => all.tables.forEach((one) => one.revisions.forEach((n) => without(n, 'way', 'global')))],
  ['tables in force', (all) => all.tables.forEach((one) => without(one, 'inForce'))],
  ['runs read otherwise, and spark settings', (all) => all.runs.forEach((run) => without(run, 'readAs', 'setting'))],
  ['complaints, the rig list and what is put back', (all) => without(all, 'complaints', 'rig', 'putBack')],
  ['reports', (all) => without(all, 'reports')],
  ['runs bound to revisions', (all) => all.runs.forEach((run) => without(run, 'revisions', 'createdAt'))],
]

describe('archives of earlier versions', () => {
  it('open, each with all that it had', async () => {
    const job = await server.newJob({ title: 'Through the years' })
    await server.upload(job, CSV).expect(201)
    await call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name: 'Trim', table: TABLE })
      .expect(201)
    const files = await packed(job)
    const content = JSON.parse(strFromU8(files['job.json']!)) as Content
    for (const [before, strip] of EARLIER) {
      strip(content)
      const { body, status } = await opened({ ...files, 'job.json': strToU8(JSON.stringify(content)) })
      expect([before, status, body]).toEqual([
        before,
        201,
        expect.objectContaining({ title: 'Through the years', runCount: 1 }),
      ])
    }
  })
  it('carry what a rig remembers there and back; one that cannot be is refused', async () => {
    const job = await server.newJob()
    await call()
      .put(api(`/jobs/${job}/bench`))
      .send({ maker: 'simulated', machine: CURLEW })
      .expect(201)
    await call()
      .post(api(`/jobs/${job}/bench/calibrate/closed`))
      .expect(200)
    await call()
      .delete(api(`/jobs/${job}/bench`))
      .expect(204)
    const memoryOf = async (of: string) =>
      (await server.store.models.rigs.findAll({ where: { jobId: of } })).map((row) => row.get().memory)
    const files = await packed(job)
    const { id } = (await opened(files).expect(201)).body as { id: string }
    expect((await memoryOf(job))[0]!.sensors.closedVolts).not.toBeNull()
    expect(await memoryOf(id)).toEqual(await memoryOf(job))
    const content = JSON.parse(strFromU8(files['job.json']!)) as Content & {
      rigs: { memory: { kept: number[][][] } }[]
    }
    content.rigs[0]!.memory.kept[0] = [[1e9]]
    const { body } = await opened({ ...files, 'job.json': strToU8(JSON.stringify(content)) }).expect(422)
    expect((body as { detail: string }).detail).toMatch(/What the rig remembers of "curlew-437-short-silencer"/)
  })
  it('carry a case of the trainer with its score', async () => {
    const [one] = (await call().get(api('/trainer/cases')).expect(200)).body as { id: string }[]
    const { id: job } = (
      await call()
        .post(api(`/trainer/cases/${one!.id}`))
        .expect(201)
    ).body as { id: string }
    const { diagnoses } = (await call().get(api(`/jobs/${job}/training`))).body as TrainingState
    await call()
      .post(api(`/jobs/${job}/training/finish`))
      .send({ diagnosis: diagnoses[0]!.id })
      .expect(200)
    const { id } = (await opened(await packed(job)).expect(201)).body as { id: string }
    const [was, is] = await Promise.all(
      [job, id].map(async (of) => (await call().get(api(`/jobs/${of}/training`))).body as TrainingState),
    )
    expect(is!.result).toEqual(was!.result)
    expect(is!.result!.lines.length).toBeGreaterThan(3)
  })
})
