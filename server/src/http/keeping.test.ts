import type { Backup, Backups, BinnedJob, Job } from '@yuzumix/core'
import { keepToday } from '../acts/keeping/daily'
import { listBackups } from '../folder/backups'
import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeEach(async () => {
  server = await testServer()
})
afterEach(() => server.stop())
const call = () => server.call()
const titles = async (): Promise<string[]> =>
  ((await call().get(api('/jobs')).expect(200)).body as Job[]).map((job) => job.title).sort()
const made = async (title: string): Promise<string> =>
  ((await call().post(api('/jobs')).send({ title }).expect(201)).body as { id: string }).id

describe('copies of the store', () => {
  it('are made, listed with the rule they are kept by, and tell which jobs they hold', async () => {
    const job = await made('Curlew')
    const backup = (await call().post(api('/backups')).send({}).expect(201)).body as Backup
    expect(backup).toMatchObject({ kind: 'asked for' })
    const { backups, keeping } = (await call().get(api('/backups')).expect(200)).body as Backups
    expect([backups.map((one) => one.name), keeping]).toEqual([[backup.name], expect.stringMatching(/14 days/)])
    const held = await call()
      .get(api(`/backups/${backup.name}`))
      .expect(200)
    expect(held.body).toMatchObject({ jobs: [{ id: job, title: 'Curlew' }] })
    await call().get(api('/backups/nothing.sqlite')).expect(404)
    await call().post(api('/backups/..%2Fyuzumix.sqlite/restore')).send({}).expect(404)
  })

  it('are put in the place of all that is there, which is copied before', async () => {
    const job = await made('Curlew')
    await server.upload(job, 'time,rpm,lambda\n0,3000,0.9\n0.1,3100,0.91\n0.2,3200,0.92\n').expect(201)
    const { name } = (await call().post(api('/backups')).send({}).expect(201)).body as Backup
    await made('Made later')
    await call()
      .delete(api(`/jobs/${job}`))
      .expect(204)
    const { body } = await call()
      .post(api(`/backups/${name}/restore`))
      .send({})
      .expect(200)
    expect(body).toEqual({ job: null })
    expect(await titles()).toEqual(['Curlew'])
    expect(
      (
        (
          await call()
            .get(api(`/jobs/${job}/runs`))
            .expect(200)
        ).body as object[]
      ).length,
    ).toBe(1)
    // Written to as before, and taken back again.
    await made('After')
    const before = listBackups(server.folder).find((one) => one.kind === 'before a restore')!
    await call()
      .post(api(`/backups/${before.name}/restore`))
      .send({})
      .expect(200)
    expect(await titles()).toEqual(['Made later'])
  })

  it('give back one job beside those that are there', async () => {
    const job = await made('Curlew')
    await server.upload(job, 'time,rpm,lambda\n0,3000,0.9\n0.1,3100,0.91\n0.2,3200,0.92\n').expect(201)
    const { name } = (await call().post(api('/backups')).send({}).expect(201)).body as Backup
    await call()
      .delete(api(`/jobs/${job}`))
      .expect(204)
    await made('Another')
    const { body } = await call()
      .post(api(`/backups/${name}/restore`))
      .send({ job })
      .expect(200)
    expect(await titles()).toEqual(['Another', 'Curlew'])
    const back = (body as { job: string }).job
    expect(
      (
        (
          await call()
            .get(api(`/jobs/${back}/runs`))
            .expect(200)
        ).body as object[]
      ).length,
    ).toBe(1)
    await call()
      .post(api(`/backups/${name}/restore`))
      .send({ job: 'nothing' })
      .expect(404)
  })

  it('are made once a day, where there is something to copy', async () => {
    const at = (hours: number): Date => new Date(Date.UTC(2026, 11, 1) + hours * 3_600_000)
    await keepToday(server.store, at(0))
    expect(listBackups(server.folder)).toEqual([])
    await made('Curlew')
    for (const hours of [1, 2, 24.9, 25.1, 30]) await keepToday(server.store, at(hours))
    expect(listBackups(server.folder).map((one) => [one.kind, one.at])).toEqual([
      ['daily', at(25.1).toISOString()],
      ['daily', at(1).toISOString()],
    ])
  })
})

describe('the bin', () => {
  it('holds a deleted job until it is brought back, or its time is over', async () => {
    const [job, other] = [await made('Curlew'), await made('Avocet')]
    for (const one of [job, other])
      await call()
        .post(api(`/jobs/${one}/sets`))
        .send({ name: 'As it came' })
        .expect(201)
    await call()
      .delete(api(`/jobs/${job}`))
      .expect(204)
    await call()
      .delete(api(`/jobs/${job}`))
      .expect(404)
    await call()
      .get(api(`/jobs/${job}`))
      .expect(404)
    await call()
      .get(api(`/jobs/${job}/runs`))
      .expect(404)
    expect(await titles()).toEqual(['Avocet'])
    // Nor is it offered where sets of all jobs are.
    const sets = (await call().get(api('/sets')).expect(200)).body as { job: string }[]
    expect(sets.map((one) => one.job)).toEqual([other])
    const [binned] = (await call().get(api('/bin')).expect(200)).body as BinnedJob[]
    expect(binned).toMatchObject({ id: job, title: 'Curlew' })
    expect(Date.parse(binned!.goneAt) - Date.parse(binned!.deletedAt)).toBe(30 * 86_400_000)
    expect(
      (
        await call()
          .post(api(`/bin/${job}/restore`))
          .send({})
          .expect(200)
      ).body,
    ).toMatchObject({ title: 'Curlew' })
    await call()
      .post(api(`/bin/${job}/restore`))
      .send({})
      .expect(404)
    expect(await titles()).toEqual(['Avocet', 'Curlew'])
    const lines = (
      await call()
        .get(api(`/jobs/${job}/entries`))
        .expect(200)
    ).body as { act: string }[]
    expect(lines.slice(0, 2).map((one) => one.act)).toEqual(['job brought back', 'job deleted'])

    await call()
      .delete(api(`/jobs/${job}`))
      .expect(204)
    await call()
      .delete(api(`/jobs/${other}`))
      .expect(204)
    await call()
      .delete(api(`/bin/${other}`))
      .expect(204)
    await keepToday(server.store, new Date(Date.now() + 29 * 86_400_000))
    expect(((await call().get(api('/bin')).expect(200)).body as BinnedJob[]).map((one) => one.id)).toEqual([job])
    await keepToday(server.store, new Date(Date.now() + 31 * 86_400_000))
    expect((await call().get(api('/bin')).expect(200)).body).toEqual([])
  })
})

it('health tells how much room there is', async () => {
  const { body } = await call().get(api('/health')).expect(200)
  expect(body).toMatchObject({
    status: 'ok',
    space: { said: expect.stringMatching(/\d+ [MG]B of \d+ [MG]B are free/) as string },
  })
})
