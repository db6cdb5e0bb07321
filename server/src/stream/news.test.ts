import type { AddressInfo } from 'node:net'
import { WebSocket } from 'ws'
import type { JobNews } from '@yuzumix/core'
import { api, CSV, TABLE, testServer, type TestServer } from '../testServer'
import type { Change } from '../store/changes'
import { openAccess } from '../access/access'
import { streams } from './stream'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

/** What is told of a job while something is done. */
async function toldOf(job: string, work: () => Promise<unknown>): Promise<string[]> {
  const heard: Change[] = []
  const off = server.store.changes.listen((change) => heard.push(change))
  await work()
  // An act that was asked for is stored; it is told right behind.
  await server.store.act(() => Promise.resolve())
  off()
  expect(heard.every((one) => one.job === job)).toBe(true)
  return [...new Set(heard.flatMap((one) => one.parts))].sort()
}

describe('news of a job', () => {
  it('name what an act changed, once it is stored', async () => {
    const job = await server.newJob()
    const send = (method: 'post' | 'patch', path: string, body: object) =>
      server
        .call()
        [method](api(`/jobs/${job}${path}`))
        .send(body)
    expect(await toldOf(job, () => send('patch', '', { title: 'Another' }).expect(200))).toEqual(['entries', 'job'])
    expect(await toldOf(job, () => server.upload(job, CSV).expect(201))).toEqual(['entries', 'runs', 'sets'])
    const table = await send('post', '/tables', { name: 'T', table: TABLE }).expect(201)
    const revision = { values: TABLE.values.map((row) => row.map((one) => one + 1)), parent: 1, reason: 'r' }
    const save = () => send('post', `/tables/${table.body.id}/revisions`, revision).expect(201)
    expect(await toldOf(job, save)).toEqual(['entries', 'tables'])
    expect(await toldOf(job, () => send('post', '/complaints', { word: 'hesitates' }).expect(201))).toEqual([
      'entries',
      'handling',
    ])
  })
  it('say nothing of what was refused, or undone', async () => {
    const job = await server.newJob()
    const bad = () =>
      server
        .call()
        .patch(api(`/jobs/${job}`))
        .send({ titel: 'x' })
        .expect(400)
    expect(await toldOf(job, bad)).toEqual([])
    const undone = () =>
      server.store
        .act(async (transaction) => {
          await server.store.models.jobs.update({ title: 'half' }, { where: { id: job }, transaction })
          throw new Error('undone')
        })
        .catch(() => undefined)
    expect(await toldOf(job, undone)).toEqual([])
  })
  it('go to whoever listens to that job, and to pages of this server only', async () => {
    const [one, other] = [await server.newJob(), await server.newJob()]
    const stream = streams(server.store, server.benches, openAccess(server.folder), false)
    const http = server.app.listen(0, '127.0.0.1')
    http.on('upgrade', stream.upgrade)
    await new Promise((resolve) => http.once('listening', resolve))
    const address = `ws://127.0.0.1:${(http.address() as AddressInfo).port}/api/v1/jobs/${one}/news`
    const socket = new WebSocket(address)
    await new Promise((resolve) => socket.once('open', resolve))
    const first = new Promise<JobNews>((resolve) =>
      socket.once('message', (data: Buffer) => resolve(JSON.parse(data.toString()) as JobNews)),
    )
    await server
      .call()
      .patch(api(`/jobs/${other}`))
      .send({ title: 'not this one' })
      .expect(200)
    await server
      .call()
      .patch(api(`/jobs/${one}`))
      .send({ title: 'this one' })
      .expect(200)
    expect((await first).changed.sort()).toEqual(['entries', 'job'])
    const stranger = new WebSocket(address, { origin: 'http://elsewhere.example' })
    const refused = await new Promise<Error>((resolve) => stranger.once('error', resolve))
    expect(refused.message).toContain('403')
    socket.close()
    stream.close()
    await new Promise((resolve) => http.close(resolve))
  })
})
